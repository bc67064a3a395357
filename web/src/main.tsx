import "@fontsource/stix-two-math/latin-400.css"; // of formulas in documents that are handed in
import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "@fontsource-variable/source-serif-4/wght.css";
import "@fontsource-variable/source-serif-4/wght-italic.css";
import "./app/theme.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./App";
import { passes, pause } from "./api/client";

const client = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (_, error) => passes(error),
      retryDelay: pause,
      refetchOnWindowFocus: false,
      networkMode: "always",
    },
  },
});

const root = document.getElementById("root");
if (!root) throw new Error("the page has no root");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <App />
    </QueryClientProvider>
  </StrictMode>,
);

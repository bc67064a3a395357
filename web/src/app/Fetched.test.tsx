// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, expect, test, vi } from "vitest";
import { RequestError } from "../api/client";
import { Fetched } from "./Fetched";

afterEach(cleanup);

const show = (data: string | undefined, error: Error | null, refetch = vi.fn()) => {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <Fetched title="Report" what="report" fetched={{ data, error, refetch }}>
          {(text) => <p>{text}</p>}
        </Fetched>
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return refetch;
};

test("what is there is shown, even where it could not be fetched again", () => {
  show("It is there.", new Error("away"));
  expect(screen.getByText("It is there.")).toBeTruthy();
  expect(screen.queryByRole("alert")).toBeNull();
});

test("until it is there it says so", () => {
  show(undefined, null);
  expect(screen.getByText("Fetching the report …")).toBeTruthy();
});

test("of what there is not nothing is tried again; of what cannot be had it is", () => {
  show(undefined, new RequestError({ status: 404, detail: "gone" }));
  expect(screen.getByRole("alert").textContent).toContain("There is no such report.gone");
  expect(screen.queryByText("Try again")).toBeNull();
  cleanup();
  const refetch = show(undefined, new RequestError({ status: 503, detail: "One moment." }));
  expect(screen.getByRole("alert").textContent).toContain("The report cannot be shown.One moment.");
  fireEvent.click(screen.getByText("Try again"));
  expect(refetch).toHaveBeenCalledTimes(1);
});

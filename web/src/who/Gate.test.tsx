// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { askAs, request, signedOut } from "../api/client";
import type { Me } from "../api/types";
import { useMe } from "../app/me";
import { Gate } from "./Gate";

vi.mock("../api/client", async (original) => ({ ...(await original<object>()), request: vi.fn(), askAs: vi.fn() }));
const server = vi.mocked(request);
const assign = vi.fn();

/** Who is signed in, as the server knows it. */
let now: Me;
const person = (id: string, name?: string): Me["person"] => ({
  id,
  name: "",
  user_name: name,
  role: name ? "member" : "guest",
});

beforeEach(() => {
  vi.clearAllMocks();
  localStorage.clear();
  now = { alone: false, guests: true };
  server.mockImplementation(async (method, path) => {
    if (method === "POST" && path === "/api/guests") now = { ...now, person: now.person ?? person("g") };
    if (method === "POST" && path === "/api/sign-in") now = { ...now, person: person("m", "maren") };
    return { ...now };
  });
  vi.spyOn(window.location, "assign").mockImplementation(assign);
  HTMLDialogElement.prototype.showModal = vi.fn();
});
afterEach(cleanup);

function Page() {
  const me = useMe();
  return <p>{me.alone ? "alone" : `in as ${me.person?.id}`}</p>;
}

const show = (path = "/") =>
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MemoryRouter initialEntries={[path]}>
        <Gate>
          <Page />
        </Gate>
      </MemoryRouter>
    </QueryClientProvider>,
  );

const posts = (path: string) => server.mock.calls.filter(([method, to]) => method === "POST" && to === path).length;

test("on one's own machine nothing is asked", async () => {
  now = { alone: true, guests: false, person: person("local") };
  show();
  expect(await screen.findByText("alone")).toBeTruthy();
  expect(posts("/api/guests")).toBe(0);
  expect(askAs).toHaveBeenLastCalledWith("");
});

test("who comes first works at once, as a guest, and the page asks in their name", async () => {
  show();
  expect(await screen.findByText("in as g")).toBeTruthy();
  expect(posts("/api/guests")).toBe(1);
  await waitFor(() => expect(askAs).toHaveBeenLastCalledWith("g"));
});

test("where guests may not work, and for who has signed out, there is the way in", async () => {
  now = { alone: false, guests: false };
  show();
  expect(await screen.findByText("User name")).toBeTruthy();
  cleanup();
  now = { alone: false, guests: true };
  localStorage.setItem("grund.left", "1");
  show();
  expect(await screen.findByText("Work without a name")).toBeTruthy();
  expect(posts("/api/guests")).toBe(0);
});

test("a one-time link needs nobody, and begins no guest", async () => {
  show("/link/abc");
  expect(await screen.findByText("in as undefined")).toBeTruthy();
  expect(posts("/api/guests")).toBe(0);
});

test("what cannot be begun is said", async () => {
  server.mockImplementation(async (method) => {
    if (method === "POST") throw new Error("That was tried too often. Wait 15 min, and try again.");
    return { ...now };
  });
  show();
  expect(await screen.findByText("That was tried too often. Wait 15 min, and try again.")).toBeTruthy();
});

test("a session that ends leaves the page, and goes on when the same person is back", async () => {
  now = { alone: false, guests: true, person: person("m", "maren") };
  show();
  await screen.findByText("in as m");
  act(() => void dispatchEvent(new Event(signedOut)));
  expect(screen.getByTestId("signed-out").textContent).toContain("signed in as maren");
  expect(screen.getByText("in as m")).toBeTruthy();
  fireEvent.click(screen.getByText("Sign in again"));
  const password = await screen.findByLabelText("Password");
  fireEvent.change(password, { target: { value: "four piers" } });
  fireEvent.submit(password.closest("form") as Element);
  await waitFor(() => expect(screen.queryByTestId("signed-out")).toBeNull());
  expect(assign).not.toHaveBeenCalled();
});

test("another one who signs in there gets a page of their own", async () => {
  now = { alone: false, guests: true, person: person("o", "odo") };
  show();
  await screen.findByText("in as o");
  act(() => void dispatchEvent(new Event(signedOut)));
  fireEvent.click(screen.getByText("Sign in again"));
  const password = await screen.findByLabelText("Password");
  fireEvent.submit(password.closest("form") as Element); // as maren
  await waitFor(() => expect(assign).toHaveBeenCalledWith("/"));
});

test("the page of a guest who has signed in elsewhere goes on as who they are now", async () => {
  now = { alone: false, guests: true, person: person("g") };
  show();
  await screen.findByText("in as g");
  now = { alone: false, guests: true, person: person("m", "maren") };
  act(() => void dispatchEvent(new Event(signedOut)));
  fireEvent.click(screen.getByText("Go on as who is signed in now"));
  expect(await screen.findByText("in as m")).toBeTruthy();
  expect(screen.queryByTestId("signed-out")).toBeNull();
  expect(askAs).toHaveBeenLastCalledWith("m");
});

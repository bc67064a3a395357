// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { request } from "../api/client";
import { entered, leftOnPurpose, useEnter } from "./useEnter";

vi.mock("../api/client", async (original) => ({ ...(await original<object>()), request: vi.fn() }));
const assign = vi.fn();

beforeEach(() => {
  localStorage.clear();
  sessionStorage.clear();
  vi.clearAllMocks();
  vi.spyOn(window.location, "assign").mockImplementation(assign);
  vi.mocked(request).mockResolvedValue({});
});
afterEach(cleanup);

const show = () =>
  renderHook(() => useEnter(), {
    wrapper: ({ children }: { children: ReactNode }) => (
      <QueryClientProvider client={new QueryClient()}>{children}</QueryClientProvider>
    ),
  }).result;

test("who comes in finds nothing that was remembered of the person before, but how pages look", () => {
  localStorage.setItem("grund.theme", "night");
  localStorage.setItem("grund.paper", '{"name":"Maren"}');
  localStorage.setItem("grund.opened", "{}");
  localStorage.setItem("other", "stays");
  sessionStorage.setItem("grund.drawn.7", "{}");
  entered("/people");
  expect(Object.keys(localStorage).sort()).toEqual(["grund.theme", "other"]);
  expect(Object.keys(sessionStorage)).toEqual([]);
  expect(assign).toHaveBeenCalledWith("/people");
});

test("who signs out where a guest was before is the guest again", async () => {
  vi.mocked(request).mockResolvedValue({ alone: false, guests: true, person: { id: "g", name: "", role: "guest" } });
  const enter = show();
  await act(async () => enter.current.out.mutate());
  await waitFor(() => expect(assign).toHaveBeenCalledWith("/"));
  expect(leftOnPurpose()).toBe(false);
});

test("who has signed out is not let in as a guest unasked, until they are", async () => {
  expect(leftOnPurpose()).toBe(false);
  const enter = show();
  await act(async () => enter.current.out.mutate());
  await waitFor(() => expect(assign).toHaveBeenCalledWith("/sign-in"));
  expect(leftOnPurpose()).toBe(true);
  await act(async () => enter.current.guest.mutate());
  await waitFor(() => expect(assign).toHaveBeenLastCalledWith("/"));
  expect(leftOnPurpose()).toBe(false);
});

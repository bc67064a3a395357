// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { RequestError, request } from "../api/client";
import { useDeletion } from "./useDeletion";

vi.mock("../api/client", async (original) => ({ ...(await original<object>()), request: vi.fn() }));
const server = vi.mocked(request);
const toast = vi.fn();
vi.mock("./toasts", () => ({ useToast: () => toast }));
const refresh = vi.fn();
const leave = vi.fn();

beforeEach(() => {
  vi.clearAllMocks();
  server.mockResolvedValue(undefined);
});
afterEach(cleanup);

function show(version: () => number | Promise<number>) {
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={new QueryClient()}>{children}</QueryClientProvider>
  );
  const what = { at: "/api/reports/5", version, says: "“R” is deleted.", refresh, leave };
  return renderHook(() => useDeletion(what), { wrapper }).result;
}

test("what is deleted is deleted at the version that was kept last, is said, and comes back", async () => {
  const remove = show(() => Promise.resolve(7));
  await act(async () => remove.current());
  await waitFor(() => expect(toast).toHaveBeenCalledTimes(1));
  expect(server).toHaveBeenCalledWith("DELETE", "/api/reports/5?version=7");
  expect(leave).toHaveBeenCalledTimes(1);
  await act(async () => toast.mock.calls[0]?.[0].action.act());
  await waitFor(() => expect(server).toHaveBeenLastCalledWith("POST", "/api/reports/5/restore"));
  expect(refresh).toHaveBeenCalledTimes(2);
});

test("what was changed elsewhere stays, and is fetched anew", async () => {
  server.mockRejectedValue(new RequestError({ status: 409, detail: "It was changed meanwhile." }));
  const remove = show(() => 7);
  await act(async () => remove.current());
  await waitFor(() => expect(toast).toHaveBeenCalledWith({ says: "It was changed meanwhile.", bad: true }));
  expect(leave).not.toHaveBeenCalled();
  expect(refresh).toHaveBeenCalledTimes(1);
});

test("what could not be kept is not deleted", async () => {
  const remove = show(() => Promise.reject(new Error("offline")));
  await act(async () => remove.current());
  await waitFor(() => expect(toast).toHaveBeenCalledWith({ says: "offline", bad: true }));
  expect(server).not.toHaveBeenCalled();
});

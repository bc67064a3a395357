// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { RequestError, request } from "../api/client";
import type { KeepRequest, KeptForReport } from "../api/types";
import { useKept } from "./useKept";

vi.mock("../api/client", async (original) => ({ ...(await original<object>()), request: vi.fn() }));
const server = vi.mocked(request);
const says = vi.fn();
vi.mock("../app/toasts", () => ({ useToast: () => says }));

let kept: string[] = [];
/** How the server answers a write, at once where there is nothing. */
let slow: (() => Promise<void>)[] = [];

beforeEach(() => {
  localStorage.clear();
  vi.clearAllMocks();
  kept = [];
  slow = [];
  server.mockImplementation(async (method, path, body) => {
    if (method === "GET") {
      if (path.includes("report=gone")) throw new RequestError({ status: 404, detail: "gone" });
      return { report: kept.length > 0 ? "r" : undefined, at: [...kept] } satisfies KeptForReport;
    }
    const { at, away } = body as KeepRequest;
    kept = away ? kept.filter((each) => each !== at) : [...kept, at];
    const answer = { report: "r", title: "Berths", at: [...kept] };
    await slow.shift()?.();
    return answer;
  });
});
afterEach(cleanup);

function show() {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>
      <MemoryRouter>{children}</MemoryRouter>
    </QueryClientProvider>
  );
  return renderHook(() => useKept("7"), { wrapper }).result;
}

const writes = () => server.mock.calls.filter(([method]) => method === "POST").map(([, , body]) => body);

test("what is kept is there, and is taken away by the same button", async () => {
  const marks = show();
  await act(async () => marks.current.toggle("number/t", "the statistic"));
  await waitFor(() => expect(marks.current.at.has("number/t")).toBe(true));
  expect(marks.current.report).toBe("r");
  expect(says.mock.calls.at(-1)?.[0].says).toBe("The statistic is kept for “Berths”.");
  await act(async () => marks.current.toggle("number/t", "the statistic"));
  await waitFor(() => expect(marks.current.at.size).toBe(0));
  expect(writes()).toEqual([
    { report: undefined, at: "number/t", away: false },
    { report: undefined, at: "number/t", away: true },
  ]);
  await act(async () => says.mock.calls.at(-1)?.[0].action.act()); // undo
  await waitFor(() => expect(marks.current.at.has("number/t")).toBe(true));
});

test("two that are kept fast are both there, however slow the first answer is", async () => {
  let release = () => {};
  slow = [
    () =>
      new Promise((done) => {
        release = done;
      }),
  ];
  const marks = show();
  await act(async () => {
    marks.current.toggle("number/t", "t");
    marks.current.toggle("table/cases", "the table");
  });
  expect(writes()).toHaveLength(1);
  await act(async () => release());
  await waitFor(() => expect([...marks.current.at]).toEqual(["number/t", "table/cases"]));
});

test("what cannot be kept is said, and what is kept is asked for again", async () => {
  const marks = show();
  await waitFor(() => expect(server).toHaveBeenCalledTimes(1));
  server.mockRejectedValueOnce(new RequestError({ status: 422, detail: "This is not in the working." }));
  await act(async () => marks.current.toggle("number/x", "x"));
  await waitFor(() => expect(says).toHaveBeenCalledWith({ says: "This is not in the working.", bad: true }));
  await waitFor(() => expect(server.mock.calls.filter(([method]) => method === "GET")).toHaveLength(2));
  expect(marks.current.at.size).toBe(0);
});

test("a report that is gone is no longer chosen", async () => {
  localStorage.setItem("grund.report-into", JSON.stringify("gone"));
  const marks = show();
  await waitFor(() => expect(marks.current.into).toBe(""));
  expect(localStorage.getItem("grund.report-into")).toBe('""');
});

// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { RequestError, request } from "../api/client";
import type { LabReport, Part, ReportRequest } from "../api/types";
import { useReport } from "./useReport";

vi.mock("../api/client", async (original) => ({ ...(await original<object>()), request: vi.fn() }));
const server = vi.mocked(request);

/** What the server has. */
let kept: LabReport;
/** What quoted numbers come to there. */
let number = "2.06";

const reading = (part: Part) => part.text?.replaceAll("@{t}", number);
const piecesOf = (parts: Part[]) =>
  parts.map((part) => ({
    id: part.id,
    text: reading(part),
    now: part.text?.includes("@{t}") ? reading(part) : undefined,
  }));

let names = 0;
beforeEach(() => {
  vi.clearAllMocks();
  vi.useFakeTimers();
  number = "2.06";
  names++; // nothing that a page before left unkept is taken up again
  const parts: Part[] = [{ id: "t", problem: "a", at: "number/t", was: "2.06" }];
  kept = {
    id: `r${names}`,
    version: 1,
    updated_at: "2026-11-29T00:00:00Z",
    title: "R",
    parts,
    pieces: piecesOf(parts),
    problems: [],
  };
  server.mockImplementation(async (method, _path, body) => {
    if (method === "GET") return kept;
    const { version, title, parts } = body as ReportRequest;
    if (version !== kept.version) throw new RequestError({ status: 409, detail: "stale" });
    const noted = parts.map((part) => (part.was ? part : { ...part, was: piecesOf([part])[0]?.now }));
    kept = { ...kept, version: kept.version + 1, title, parts: noted, pieces: piecesOf(noted) };
    return kept;
  });
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

const show = () => {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  return renderHook(({ report }) => useReport(report), { wrapper, initialProps: { report: kept } });
};
const pass = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));
const puts = () => server.mock.calls.filter(([method]) => method === "PUT").length;

test("what is typed in one go is one write and one change; how it reads is learnt, and is no change", async () => {
  const { result } = show();
  for (const text of ["t", "t =", "t = @{t}"]) {
    act(() =>
      result.current.keeping.change("the words", (written) => ({
        ...written,
        parts: [written.parts[0] as Part, { id: "own", problem: "a", text }],
      })),
    );
    await pass(100);
  }
  expect(puts()).toBe(0);
  await pass(1000);
  expect(puts()).toBe(1);
  expect(result.current.saving).toBe("kept");
  expect(result.current.state.parts[1]?.was).toBe("t = 2.06");
  await pass(5000);
  expect(puts()).toBe(1); // what was learnt is not written again
  act(() => result.current.keeping.undo());
  expect(result.current.state.parts).toHaveLength(1);
  expect(result.current.canUndo).toBeUndefined();
});

test("what was kept in another tab meanwhile is added, and nothing that was written here is lost", async () => {
  const { result } = show();
  const added: Part = { id: "table", problem: "b", at: "table/cases", was: "#1" };
  kept = { ...kept, version: 2, parts: [...kept.parts, added] };
  act(() => result.current.keeping.change("the title", (written) => ({ ...written, title: "Mine" })));
  await pass(1000);
  expect(result.current.saving).toBe("conflict");
  await act(() => result.current.keeping.keepMine());
  await pass(1000);
  expect(result.current.saving).toBe("kept");
  expect(kept.title).toBe("Mine");
  expect(kept.parts.map((part) => part.id)).toEqual(["t", "table"]);
});

test("a problem that was changed makes another reading, and what can be undone stays", async () => {
  const { result, rerender } = show();
  act(() => result.current.keeping.change("the title", (written) => ({ ...written, title: "Mine" })));
  await pass(1000);
  number = "3.3";
  const read = { ...kept, pieces: [{ id: "t", now: "3.3", changed: "It was 2.06 when it was kept." }] };
  rerender({ report: read });
  expect(result.current.base.pieces[0]?.changed).toBe("It was 2.06 when it was kept.");
  expect(result.current.state.title).toBe("Mine");
  expect(result.current.canUndo).toBe("the title");
});

test("a newer version that the server brings is shown where nothing here is unkept, and waits where something is", async () => {
  const { result, rerender } = show();
  rerender({ report: { ...kept, version: 2, title: "Theirs" } });
  expect(result.current.state.title).toBe("Theirs");
  act(() => result.current.keeping.change("the title", (written) => ({ ...written, title: "Mine" })));
  rerender({ report: { ...kept, version: 3, title: "Theirs again" } });
  expect(result.current.state.title).toBe("Mine");
});

test("who is signed out meanwhile keeps what is written, and it goes through when they are back", async () => {
  const { result } = show();
  server.mockRejectedValueOnce(new RequestError({ status: 401, detail: "Sign in first." }));
  act(() => result.current.keeping.change("the title", (written) => ({ ...written, title: "Mine" })));
  await pass(600);
  expect(result.current.saving).toBe("signed-out");
  expect(result.current.state.title).toBe("Mine");
  await pass(4000);
  expect(result.current.saving).toBe("kept");
  expect(kept.title).toBe("Mine");
});

// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterAll, afterEach, beforeEach, expect, test, vi } from "vitest";
import { problemQuery } from "../api/queries";
import type { Draft, Problem, ProblemSet } from "../api/types";
import { leftKept } from "../lib/keepings";
import { changed, settingsOf } from "./settings";
import { useSettings } from "./useSettings";

/** A request that the page sent, with the answer that the test gives it. */
interface Sent {
  method: string;
  path: string;
  body: { version?: number; set?: ProblemSet[]; steps?: number };
  keepalive: boolean;
  answer: (status: number, body: unknown) => Promise<void>;
}

let sent: Sent[] = [];

beforeEach(() => {
  sent = [];
  vi.stubGlobal("fetch", (path: string, init: RequestInit) => {
    return new Promise<Response>((done) => {
      sent.push({
        method: init.method ?? "",
        path,
        body: init.body ? JSON.parse(String(init.body)) : {},
        keepalive: init.keepalive ?? false,
        answer: (status, body) => act(async () => done(new Response(JSON.stringify(body), { status }))),
      });
    });
  });
});

// What is left of a test may still ask for something.
afterAll(() => void vi.unstubAllGlobals());

afterEach(cleanup);

const draft = { procedure: "t-two-samples", alpha: "0.05", tail: "both", roles: {}, options: {}, leave_out: [] };
const problemAt = (version: number, alpha = "0.05", dataVersion = 1, id = "p"): Problem =>
  ({ id, version, data_version: dataVersion, draft: { ...draft, alpha } as unknown as Draft }) as Problem;
const solution = (key: string) => ({ title: key, steps: [], controls: [], quantities: [] });
const settled = (version: number, alpha: string, id = "p") => ({
  problem: problemAt(version, alpha, 1, id),
  solution: solution(`at ${alpha}`),
  failure: null,
});
const alpha = (value: number): ProblemSet[] => [{ pointer: "/alpha", value }];
const last = () => sent.at(-1) as Sent;
const patches = () => sent.filter((each) => each.method === "PATCH");
const pause = () => act(() => new Promise((done) => setTimeout(done, 5)));

/** show draws the page of a problem, whose first solution is there. */
async function show(id: string, steps = 0, shared?: boolean) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const hook = renderHook(({ problem }) => useSettings(problem, steps), {
    initialProps: { problem: { ...problemAt(1, "0.05", 1, id), shared } as Problem },
    wrapper: ({ children }) => <QueryClientProvider client={client}>{children}</QueryClientProvider>,
  });
  await last().answer(200, { version: 1, data_version: 1, solution: solution("at 0.05") });
  await pause();
  const page = () => hook.result.current;
  const change = async (set: ProblemSet[]) => {
    act(() => page().change(set, "alpha"));
    await pause();
  };
  return { ...hook, page, change, client };
}

test("a click is one request, which brings the solution too", async () => {
  const { page, change } = await show("one", 3);
  expect(sent.map((each) => each.body.steps)).toEqual([3]);
  await change(alpha(0.01));
  expect(page().current("/alpha")).toBe(0.01);
  expect(page().worked?.solution.title).toBe("at 0.05");
  expect(page().busy).toBe(true);
  expect(last().body).toEqual({ version: 1, set: alpha(0.01), steps: 3 });
  expect(last().keepalive).toBe(true);
  await last().answer(200, settled(2, "0.01", "one"));
  await pause();
  expect(page().worked?.solution.title).toBe("at 0.01");
  expect(page().busy).toBe(false);
  expect(sent).toHaveLength(2);
});

test("what is clicked while a write is under way follows it, based on its answer", async () => {
  const { page, change } = await show("two");
  await change(alpha(0.01));
  await change(alpha(0.1));
  expect(patches()).toHaveLength(1);
  await last().answer(200, settled(2, "0.01", "two"));
  await pause();
  expect(patches()).toHaveLength(2);
  expect(last().body).toMatchObject({ version: 2, set: alpha(0.1) });
  await last().answer(200, settled(3, "0.1", "two"));
  await pause();
  expect(page().worked?.solution.title).toBe("at 0.1");
});

test("a refused change shows why, and undo takes it back without a request", async () => {
  const { page, change } = await show("three");
  await change(alpha(5));
  await last().answer(422, { status: 422, title: "", detail: "Alpha lies between 0 and 1.", errors: [] });
  expect(page().kept).toMatchObject({ saving: "refused", trouble: "Alpha lies between 0 and 1." });
  expect(page().worked?.solution.title).toBe("at 0.05");
  act(() => page().kept.keeping.undo());
  await pause();
  expect(page().kept.saving).toBe("kept");
  expect(patches()).toHaveLength(1);
});

test("a conflict keeps both versions until the person decides; mine goes over theirs setting by setting", async () => {
  const { page, change } = await show("four");
  await change([{ pointer: "/options/mean", value: 3 }]);
  await last().answer(409, { status: 409, title: "", detail: "It is version 5 now.", errors: [] });
  expect(page().kept.saving).toBe("conflict");
  let done: Promise<void> | undefined;
  act(() => {
    done = page().kept.keeping.keepMine();
  });
  await pause();
  await last().answer(200, problemAt(5, "0.2", 1, "four"));
  await done;
  await pause();
  const patch = patches().at(-1) as Sent;
  expect(patch.body).toMatchObject({ version: 5, set: [{ pointer: "/options/mean", value: 3 }] });
  expect(page().current("/alpha")).toBe(0.2);
});

test("a setting that is kept but cannot be worked says so once, and shows the solution before", async () => {
  const { page, change } = await show("five");
  await change(alpha(0.01));
  const failure = { status: 503, title: "", detail: "It took too long.", errors: [] };
  await last().answer(200, { ...settled(2, "0.01", "five"), solution: null, failure });
  await pause();
  expect(page()).toMatchObject({ failure: "It took too long.", busy: false });
  expect(page().worked?.solution.title).toBe("at 0.05");
  expect(sent).toHaveLength(2);
});

test("a page that is left inside the application has its change kept", async () => {
  const { page, unmount } = await show("six");
  act(() => page().change(alpha(0.01), "alpha"));
  unmount();
  const waiting = leftKept("settings:six");
  await pause();
  expect(last()).toMatchObject({ method: "PATCH", body: { set: alpha(0.01) } });
  let over = false;
  waiting.then(() => {
    over = true;
  });
  await pause();
  expect(over).toBe(false);
  await last().answer(200, settled(2, "0.01", "six"));
  await waiting;
});

test("a page that closes sends what is not under way yet, as of the version that the write under way makes", async () => {
  const { page, change } = await show("seven");
  await change(alpha(0.01));
  act(() => page().change([{ pointer: "/tail", value: "left" }], "tail"));
  dispatchEvent(new Event("pagehide"));
  expect(patches()).toHaveLength(2);
  expect(last().body).toMatchObject({ version: 2, set: [...alpha(0.01), { pointer: "/tail", value: "left" }] });
  expect(last().keepalive).toBe(true);
});

test("a newer problem that was fetched is shown; other data alone leave what can be undone", async () => {
  const { page, change, rerender } = await show("eight");
  await change(alpha(0.01));
  await last().answer(200, settled(2, "0.01", "eight"));
  await pause();
  rerender({ problem: problemAt(2, "0.01", 2, "eight") });
  await pause();
  expect(last()).toMatchObject({ method: "POST", body: { version: 2, data_version: 2 } });
  expect(page().kept.canUndo).toBe("alpha");
  rerender({ problem: problemAt(4, "0.2", 2, "eight") });
  await pause();
  expect(page().current("/alpha")).toBe(0.2);
  expect(page().kept.canUndo).toBeUndefined();
});

test("an answer that is out of date lets the problem be fetched anew", async () => {
  const { client, rerender } = await show("nine");
  client.setQueryData(problemQuery("nine").queryKey, problemAt(1, "0.05", 1, "nine"));
  rerender({ problem: problemAt(1, "0.05", 2, "nine") });
  await pause();
  await last().answer(409, { status: 409, title: "", detail: "It is version 3 now.", errors: [] });
  expect(client.getQueryState(problemQuery("nine").queryKey)?.isInvalidated).toBe(true);
});

test("a control says in its own form what is kept, until something else is chosen", async () => {
  const { page, change } = await show("eleven");
  const direction = (response: string) => ({ response: [response] });
  const control = { pointer: "/roles", value: direction("fuel"), choices: [] };
  await change([{ pointer: "/alpha", value: 0.01 }]);
  const answer = settled(2, "0.01", "eleven");
  await last().answer(200, { ...answer, solution: { ...answer.solution, controls: [control] } });
  await pause();
  expect(page().current("/roles")).toEqual(direction("fuel"));
  await change([{ pointer: "/roles", value: direction("minutes") }]);
  expect(page().current("/roles")).toEqual(direction("minutes"));
});

test("another procedure is undone with all that the first one had", async () => {
  const { page, change } = await show("ten");
  await change([{ pointer: "/procedure", value: "rank-sum" }]);
  const other = settled(2, "0.05", "ten");
  await last().answer(200, { ...other, problem: { ...other.problem, draft: { ...draft, procedure: "rank-sum" } } });
  await pause();
  await change([{ pointer: "/options/median", value: 3 }]);
  expect(last().body.set).toEqual([{ pointer: "/options/median", value: 3 }]);
  await last().answer(200, { ...settled(3, "0.05", "ten") });
  await pause();
  act(() => page().kept.keeping.undo());
  await pause();
  act(() => page().kept.keeping.undo());
  await pause();
  expect(page().kept.state).toEqual(changed(settingsOf(draft as unknown as Draft), []));
});

test("what is changed of another's problem is worked for this page alone, and undone", async () => {
  const { page, change } = await show("link", 0, true);
  expect(last().path).toBe("/api/shared/link/work");
  await change(alpha(0.01));
  expect(last()).toMatchObject({ path: "/api/shared/link/work", body: { version: 1, set: alpha(0.01) } });
  expect(page().worked?.solution.title).toBe("at 0.05");
  await last().answer(200, { version: 1, data_version: 1, solution: solution("at 0.01") });
  await pause();
  expect(page().worked?.solution.title).toBe("at 0.01");
  expect(page().set).toEqual(alpha(0.01));
  expect(page().current("/alpha")).toBe(0.01);
  act(() => page().kept.keeping.undo());
  await pause();
  expect(page().worked?.solution.title).toBe("at 0.05"); // it was worked before
  expect(page().set).toEqual([]);
  expect(sent).toHaveLength(2);
  expect(patches()).toEqual([]);
});

test("a change that cannot be worked shows why, and the solution before stays", async () => {
  const { page, change } = await show("link-two", 0, true);
  await change(alpha(5));
  await last().answer(422, { status: 422, title: "", detail: "Alpha lies between 0 and 1.", errors: [] });
  expect(page().kept).toMatchObject({ saving: "refused", trouble: "Alpha lies between 0 and 1." });
  act(() => page().kept.keeping.undo());
  await pause();
  expect(page().kept.saving).toBe("kept");
});

test("where the owner changes the problem, what is changed here goes over it", async () => {
  const { page, change, rerender } = await show("link-three", 0, true);
  await change([{ pointer: "/options/mean", value: 3 }]);
  await last().answer(200, { version: 1, data_version: 1, solution: solution("at 3") });
  await pause();
  rerender({ problem: { ...problemAt(2, "0.1", 1, "link-three"), shared: true } });
  await pause();
  expect(last().body).toMatchObject({ version: 2, set: [{ pointer: "/options/mean", value: 3 }] });
  expect(page().current("/alpha")).toBe(0.1);
  expect(page().current("/options/mean")).toBe(3);
});

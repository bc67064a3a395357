// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterAll, afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Description, Draft, Problem } from "../api/types";
import type { HeldSet } from "../data/context";
import { column, setOf } from "../data/fixture";
import { setColumn, sheetOf, withCells } from "../data/sheet";
import { useDraftState } from "./draft";

interface Sent {
  call: string;
  body: { version?: number; draft?: Draft; data_set?: string };
}

/** What the page sent, and what the server says to each call; a number is the status of a failure. */
let sent: Sent[] = [];
let says: Record<string, object | number> = {};

const set = (id: string, cell: string): HeldSet => ({
  id,
  version: 3,
  demo: false,
  sheet: sheetOf(setOf(column(1, "minutes", [cell]))),
});
const setOnServer = (id: string, cell: string) => ({
  ...set(id, cell),
  sheet: undefined,
  next: null,
  set: setOf(column(1, "minutes", [cell])),
});

beforeEach(() => {
  vi.useFakeTimers();
  sent = [];
  says = {
    "PATCH /api/data-sets/log": { version: 4, problems: {} },
    "PUT /api/problems/p": { version: 8, data_version: 4, mistakes: [] },
    "GET /api/problems/p/check": {
      version: 99,
      data_version: 4,
      mistakes: [{ pointer: "/roles", says: "none is given" }],
    },
    "GET /api/data-sets/other": setOnServer("other", "5"),
  };
  vi.stubGlobal("fetch", async (path: string, init: RequestInit) => {
    const call = `${init.method} ${path}`;
    sent.push({ call, body: init.body ? JSON.parse(String(init.body)) : {} });
    const answer = says[call] ?? 404;
    if (typeof answer === "object") return new Response(JSON.stringify(answer), { status: 200 });
    const failure = { status: answer, title: "", detail: `status ${answer}`, errors: [] };
    return new Response(JSON.stringify(failure), { status: answer });
  });
});

// What is left of a test may still ask for something.
afterAll(() => void vi.unstubAllGlobals());

afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

const draft = { title: "", procedure: "t-one-sample", roles: { response: "minutes" }, options: {}, leave_out: [] };
const pause = () => act(() => vi.advanceTimersByTimeAsync(500));

let count = 0;

/** edit opens a problem of its own name, so that nothing that another test left is taken up. */
function edit() {
  count += 1;
  const id = `p${count}`;
  for (const [call, answer] of Object.entries(says)) says[call.replace("problems/p", `problems/${id}`)] = answer;
  const problem = {
    id,
    version: 7,
    mistakes: [],
    draft: draft as unknown as Draft,
    data_set: "log",
  } as unknown as Problem;
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const hook = renderHook(() => useDraftState(problem, set("log", "12"), [{ id: "t-one-sample" } as Description]), {
    wrapper: ({ children }) => <QueryClientProvider client={client}>{children}</QueryClientProvider>,
  });
  const state = () => hook.result.current;
  const type = (cell: string) =>
    act(() =>
      state().kept.keeping.change("type", (now) => ({
        ...now,
        sheet: setColumn(now.sheet, 0, (column) => withCells(column, 0, [cell])),
      })),
    );
  const name = (title: string) => act(() => state().change("name", (now) => ({ ...now, title })));
  return { ...hook, id, state, type, name, calls: () => sent.map((each) => each.call.replace(id, "p")) };
}

test("the data are kept before the draft that is about them, each based on its own version", async () => {
  const { state, type, name, calls } = edit();
  type("13");
  name("Boarding");
  await pause();
  expect(calls()).toEqual(["PATCH /api/data-sets/log", "PUT /api/problems/p"]);
  expect(sent.map((each) => each.body.version)).toEqual([3, 7]);
  expect(state().kept).toMatchObject({ saving: "kept", base: { version: 8 } });
  name("Boarding at the Mole");
  await pause();
  expect(sent.at(-1)?.body).toMatchObject({ version: 8, draft: { title: "Boarding at the Mole" } });
});

test("where only the data changed the draft is looked at, and no version is taken that was not written here", async () => {
  const { state, type, calls } = edit();
  type("13");
  await pause();
  expect(calls()).toEqual(["PATCH /api/data-sets/log", "GET /api/problems/p/check"]);
  expect(state().mistakes).toMatchObject([{ says: "none is given" }]);
  expect(state().kept.base.version).toBe(7);
});

test("a problem that the server let follow a renamed column has the version that this wrote", async () => {
  const { id, state, type, name } = edit();
  says["PATCH /api/data-sets/log"] = { version: 4, problems: { [id]: 12 } };
  type("13");
  name("Boarding");
  await pause();
  expect(sent.at(-1)?.body.version).toBe(12);
  expect(state().kept.saving).toBe("kept");
});

test("data that were taken are not sent again where the draft could not be kept", async () => {
  const { id, state, type, name, calls } = edit();
  says[`PUT /api/problems/${id}`] = 503;
  type("13");
  name("Boarding");
  await pause();
  expect(state().kept.saving).toBe("offline");
  says[`PUT /api/problems/${id}`] = { version: 8, data_version: 4, mistakes: [] };
  await act(() => vi.advanceTimersByTimeAsync(3000));
  expect(calls()).toEqual(["PATCH /api/data-sets/log", "PUT /api/problems/p", "PUT /api/problems/p"]);
  expect(state().kept.saving).toBe("kept");
});

test("what is typed right after another data set was taken is kept with that one", async () => {
  const { state, type, calls } = edit();
  says["PATCH /api/data-sets/other"] = { version: 4, problems: {} };
  await act(() => state().takeDataSet("other"));
  expect(state()).toMatchObject({ dataSet: "other", draft: { roles: {} } });
  type("6");
  await pause();
  expect(calls()).toEqual(["GET /api/data-sets/other", "PATCH /api/data-sets/other", "PUT /api/problems/p"]);
  expect(sent.at(-1)?.body.data_set).toBe("other");
  act(() => state().kept.keeping.undo());
  act(() => state().kept.keeping.undo());
  expect(state()).toMatchObject({ dataSet: "log", draft: { roles: { response: "minutes" } } });
  await pause();
  expect(sent.at(-1)).toMatchObject({ body: { data_set: "log" } });
  expect(calls().filter((call) => call === "PATCH /api/data-sets/log")).toEqual([]);
});

test("mine, about another data set than theirs, is kept after a conflict", async () => {
  const { id, state, calls } = edit();
  await act(() => state().takeDataSet("other"));
  says[`PUT /api/problems/${id}`] = 409;
  await pause();
  expect(state().kept.saving).toBe("conflict");
  says[`GET /api/problems/${id}`] = { id, version: 20, mistakes: [], draft, data_set: "log" };
  says["GET /api/data-sets/log"] = setOnServer("log", "12");
  says[`PUT /api/problems/${id}`] = { version: 21, data_version: 3, mistakes: [] };
  await act(() => state().kept.keeping.keepMine());
  await pause();
  expect(calls().slice(-2)).toEqual(["GET /api/data-sets/other", "PUT /api/problems/p"]);
  expect(sent.at(-1)?.body).toMatchObject({ version: 20, data_set: "other" });
  expect(state().kept).toMatchObject({ saving: "kept", base: { version: 21 } });
});

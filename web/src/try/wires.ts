import { RequestError, request } from "../api/client";
import { pathOf } from "../api/queries";
import type { Item, Problem, SharedEvent, SharedTryRequest, Table, TrySheet } from "../api/types";
import type { Deed, Wire } from "./answering";

const wait = (time: number) => new Promise<void>((resolve) => setTimeout(resolve, time));

/** kept returns what the browser keeps under a name, a list, and what keeps another one there. */
function kept<T>(key: string): [load: () => T[], save: (list: readonly T[]) => void] {
  return [
    () => {
      try {
        const list = JSON.parse(localStorage.getItem(key) ?? "[]");
        return Array.isArray(list) ? list : [];
      } catch {
        return []; // written by something else
      }
    },
    (list) => (list.length > 0 ? localStorage.setItem(key, JSON.stringify(list)) : localStorage.removeItem(key)),
  ];
}

/** wireOf is how an attempt at a problem reaches the server, which keeps it where the problem is one's own. */
export function wireOf(problem: Pick<Problem, "id" | "shared">): Wire {
  return problem.shared ? sharedWire(problem.id) : ownWire(problem.id);
}

function ownWire(id: string): Wire {
  const path = `${pathOf({ id })}/try`;
  const [load, save] = kept<Deed>(`grund.try.${id}`);
  return {
    fetch: () => request<TrySheet>("GET", path),
    post: (body) => request<TrySheet>("POST", path, body, { outlives: true }),
    end: () => request<void>("DELETE", path),
    wait,
    save,
    load,
    rows: ({ version, data_version }, asked) =>
      request<Table>("POST", `${path}/rows`, { version, data_version, set: [], ...asked }),
  };
}

/** setWire is how a student's attempt at a problem of a set reaches the server; there is one, and it is looked at for a person. */
export function setWire(setProblem: string, person?: string): Wire {
  const of = person ? `?person=${person}` : "";
  const path = `/api/set-problems/${setProblem}/try`;
  const [load, save] = kept<Deed>(`grund.try.${setProblem}`);
  return {
    fetch: () => request<TrySheet>("GET", path + of),
    post: (body) => request<TrySheet>("POST", path, body, { outlives: true }),
    wait,
    save: person ? () => {} : save,
    load: person ? () => [] : load,
    rows: (_sheet, asked) => request<Table>("POST", `${path}/rows${of}`, asked),
  };
}

/** What was done at a shared problem, and at which versions of it and its data. */
interface Done {
  version: number;
  data_version: number;
  events: SharedEvent[];
}

/** judged returns an event with the verdict that a sheet has on it. */
function judged(event: SharedEvent, items: readonly Item[]): SharedEvent {
  const verdict = event.kind === "answer" ? items.find((item) => item.id === event.ask)?.verdict : undefined;
  return verdict ? { ...event, verdict: verdict.verdict, slip: verdict.slip } : event;
}

/** sharedWire asks of an attempt at another's problem, which this browser keeps and nobody else: the server only judges it. */
function sharedWire(token: string): Wire {
  const path = `${pathOf({ id: token, shared: true })}/try`;
  const [loadDone, saveDone] = kept<Done>(`grund.shared-try.${token}`);
  const [load, save] = kept<Deed>(`grund.try.${token}`);
  const events = () => loadDone()[0]?.events ?? [];
  const ask = (body: SharedTryRequest) => request<TrySheet>("POST", path, body);
  const needs = (after: number) => {
    if (events().length !== after)
      throw new RequestError({ status: 409, detail: "Another tab has answered meanwhile." });
  };
  return {
    fetch: async () => {
      const [done] = loadDone();
      if (!done) return ask({ events: [] });
      try {
        return await ask(done);
      } catch (error) {
        if (!(error instanceof RequestError && error.status === 409)) throw error;
        // What was answered was of another problem: its owner has changed it since.
        saveDone([]);
        return { ...(await ask({ events: [] })), renewed: true };
      }
    },
    post: async ({ version, data_version, after, ...deed }) => {
      needs(after);
      const before = events();
      const sheet = await ask({ version, data_version, events: [...before, deed] });
      needs(after);
      saveDone([{ version, data_version, events: [...before, judged(deed, sheet.items)] }]);
      return sheet;
    },
    end: async () => saveDone([]),
    wait,
    save,
    load,
    rows: ({ version, data_version }, asked) =>
      request<Table>("POST", path, { version, data_version, events: events(), rows: { set: [], ...asked } }),
  };
}

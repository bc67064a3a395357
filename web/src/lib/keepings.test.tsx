// @vitest-environment happy-dom
import { act, cleanup, renderHook } from "@testing-library/react";
import { StrictMode } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { RequestError } from "../api/client";
import type { Held, Way } from "./keeping";
import { leftKept, useKeeping } from "./keepings";

/** A server that takes what comes in its order, once it answers. */
let sent: { text: string; base: number; answer: (error?: Error) => Promise<void> }[] = [];
let left: string[] = [];

const save = (text: string, kept: Held<string, number>) =>
  new Promise<number>((done, fail) => {
    sent.push({
      text,
      base: kept.base,
      answer: (error) => act(async () => (error ? fail(error) : done(kept.base + 1))),
    });
  });

const way: Way<string, number> = {
  save,
  theirs: async () => ({ state: "theirs", base: 9 }),
  quiet: 60_000,
  together: 0,
};

const open = (name: string, more: Partial<Way<string, number>> = {}) =>
  renderHook(() => useKeeping(name, { state: "", base: 1 }, { ...way, ...more }), { wrapper: StrictMode });

const failure = (status: number) => new RequestError({ status, detail: `status ${status}` });
const asked = () => {
  const event = new Event("beforeunload", { cancelable: true });
  dispatchEvent(event);
  return event.defaultPrevented;
};

beforeEach(() => {
  sent = [];
  left = [];
});
afterEach(cleanup);

test("a page that is left keeps what it had not kept, and the next page can wait for it", async () => {
  const { result, unmount } = open("a");
  act(() => result.current.keeping.change("text", () => "typed"));
  unmount();
  expect(sent).toMatchObject([{ text: "typed", base: 1 }]);
  let kept = false;
  const waiting = leftKept("a").then(() => {
    kept = true;
  });
  await Promise.resolve();
  expect(kept).toBe(false);
  await sent[0]?.answer();
  await waiting;
  expect(kept).toBe(true);
  await leftKept("a"); // nothing is left of it
  await leftKept("never there");
});

test("what could not be kept is taken up again when its page comes back", async () => {
  const first = open("b");
  act(() => first.result.current.keeping.change("text", () => "mine"));
  first.unmount();
  await sent[0]?.answer(failure(409));
  expect(asked()).toBe(true);
  const { result } = open("b");
  expect(result.current).toMatchObject({ state: "mine", saving: "conflict" });
  await act(() => result.current.keeping.takeTheirs());
  expect(result.current).toMatchObject({ state: "theirs", base: 9, saving: "kept" });
  expect(asked()).toBe(false);
});

test("a page that was kept begins anew with what the server has", async () => {
  const first = open("c");
  act(() => first.result.current.keeping.change("text", () => "mine"));
  first.unmount();
  await sent[0]?.answer();
  await leftKept("c");
  expect(open("c").result.current.state).toBe("");
});

test("a page that nobody sees any more is kept at once", async () => {
  const { result } = open("d");
  act(() => result.current.keeping.change("text", () => "typed"));
  const hidden = vi.spyOn(document, "visibilityState", "get").mockReturnValue("hidden");
  document.dispatchEvent(new Event("visibilitychange"));
  hidden.mockRestore();
  expect(sent).toMatchObject([{ text: "typed", base: 1 }]);
  await sent[0]?.answer();
  expect(result.current.saving).toBe("kept");
});

test("a page that closes sends what it can, or else asks", async () => {
  const asking = open("e");
  act(() => asking.result.current.keeping.change("text", () => "typed"));
  expect(asked()).toBe(true);
  await act(async () => asking.result.current.keeping.undo());
  expect(asked()).toBe(false);
  const sending = open("f", { leave: (text) => left.push(text) });
  act(() => sending.result.current.keeping.change("text", () => "typed"));
  expect(asked()).toBe(false);
  dispatchEvent(new Event("pagehide"));
  expect(left).toEqual(["typed"]);
});

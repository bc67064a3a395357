import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { RequestError } from "../api/client";
import { type Held, Keeping, type Way } from "./keeping";

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const failure = (status: number) => new RequestError({ status, detail: `status ${status}` });

/** A server that keeps a text with a version; each write is answered when the test says so. */
class Server {
  text = "";
  version = 1;
  writes: { text: string; version: number; answer: (how?: Error) => Promise<void> }[] = [];
  theirs = async (): Promise<Held<string, number>> => ({ state: this.text, base: this.version });

  save = (text: string, kept: Held<string, number>): Promise<number> =>
    new Promise((done, fail) => {
      this.writes.push({
        text,
        version: kept.base,
        answer: async (how) => {
          if (how) fail(how);
          else if (kept.base !== this.version) fail(failure(409));
          else {
            this.text = text;
            this.version++;
            done(this.version);
          }
          await vi.advanceTimersByTimeAsync(0);
        },
      });
    });

  last() {
    return this.writes.at(-1) as Server["writes"][number];
  }
}

function begin(more: Partial<Way<string, number>> = {}) {
  const server = new Server();
  const keeping = new Keeping<string, number>(
    { state: "", base: 1 },
    { save: server.save, theirs: server.theirs, quiet: 500, together: 1500, ...more },
  );
  const type = (text: string) => keeping.change("text", () => text);
  return { server, keeping, type };
}

const pause = () => vi.advanceTimersByTimeAsync(500);

describe("keeping", () => {
  test("waits for a pause, and sends once", async () => {
    const { server, keeping, type } = begin();
    type("a");
    await vi.advanceTimersByTimeAsync(400);
    type("ab");
    await vi.advanceTimersByTimeAsync(400);
    expect(server.writes).toEqual([]);
    expect(keeping.snapshot().saving).toBe("typing");
    await pause();
    expect(server.writes.map((write) => write.text)).toEqual(["ab"]);
    expect(keeping.snapshot().saving).toBe("keeping");
    await server.last().answer();
    expect(keeping.snapshot()).toMatchObject({ state: "ab", base: 2, saving: "kept" });
    await vi.advanceTimersByTimeAsync(60_000);
    expect(server.writes).toHaveLength(1);
  });

  test("has one write under way; what is changed meanwhile follows, based on its answer", async () => {
    const { server, keeping, type } = begin();
    type("a");
    await pause();
    type("ab");
    await pause();
    type("abc");
    await pause();
    expect(server.writes).toHaveLength(1);
    await server.last().answer();
    expect(keeping.snapshot().saving).toBe("typing");
    await pause();
    expect(server.last()).toMatchObject({ text: "abc", version: 2 });
    await server.last().answer();
    expect(server.text).toBe("abc");
    expect(keeping.snapshot().saving).toBe("kept");
  });

  test("what is undone before it was sent is not sent", async () => {
    const { server, keeping, type } = begin();
    type("a");
    keeping.undo();
    expect(keeping.snapshot()).toMatchObject({ state: "", saving: "kept", canUndo: undefined, canRedo: "text" });
    await vi.advanceTimersByTimeAsync(60_000);
    expect(server.writes).toEqual([]);
  });

  test("what is undone while it is sent is put back on the server", async () => {
    const { server, keeping, type } = begin();
    type("a");
    await pause();
    keeping.undo();
    await server.last().answer();
    await pause();
    expect(server.last()).toMatchObject({ text: "", version: 2 });
    await server.last().answer();
    expect(keeping.snapshot()).toMatchObject({ state: "", saving: "kept" });
  });

  test("undo and redo go by changes, those of one name in quick succession together", () => {
    const { keeping } = begin();
    for (const text of ["a", "ab", "abc"]) keeping.change("title", () => text);
    keeping.change("alpha", (text) => `${text}!`);
    vi.advanceTimersByTime(5000);
    keeping.change("alpha", (text) => `${text}!`);
    expect(keeping.snapshot().state).toBe("abc!!");
    keeping.undo();
    expect(keeping.snapshot()).toMatchObject({ state: "abc!", canUndo: "alpha", canRedo: "alpha" });
    keeping.undo();
    keeping.undo();
    expect(keeping.snapshot()).toMatchObject({ state: "", canUndo: undefined });
    keeping.redo();
    keeping.redo();
    expect(keeping.snapshot().state).toBe("abc!");
    keeping.change("title", () => "new");
    expect(keeping.snapshot().canRedo).toBeUndefined();
  });

  test("where none goes on, each change is undone alone", () => {
    const { keeping } = begin({ together: 0 });
    for (const text of ["a", "ab"]) keeping.change("title", () => text);
    keeping.undo();
    expect(keeping.snapshot().state).toBe("a");
  });

  test("without a connection it tries again by itself", async () => {
    const { server, keeping, type } = begin();
    type("a");
    await pause();
    await server.last().answer(failure(0));
    expect(keeping.snapshot()).toMatchObject({ saving: "offline", trouble: "status 0", state: "a" });
    type("ab");
    await vi.advanceTimersByTimeAsync(3000);
    expect(server.last()).toMatchObject({ text: "ab", version: 1 });
    await server.last().answer();
    expect(keeping.snapshot()).toMatchObject({ saving: "kept", trouble: "" });
  });

  test("what is refused waits until it is changed", async () => {
    const { server, keeping, type } = begin();
    type("a");
    await pause();
    await server.last().answer(failure(422));
    expect(keeping.snapshot().saving).toBe("refused");
    await vi.advanceTimersByTimeAsync(60_000);
    expect(server.writes).toHaveLength(1);
    type("b");
    await pause();
    expect(server.last().text).toBe("b");
    await server.last().answer();
    expect(keeping.snapshot()).toMatchObject({ saving: "kept", trouble: "" });
  });

  test("what was mended while the wrong one was refused is sent", async () => {
    const { server, keeping, type } = begin();
    type("a");
    await pause();
    type("b");
    await server.last().answer(failure(422));
    expect(keeping.snapshot().saving).toBe("typing");
    await pause();
    expect(server.last().text).toBe("b");
  });
});

describe("a conflict", () => {
  const other = async (text: string) => {
    const all = begin({ over: (mine, kept, theirs) => theirs + mine.slice(kept.length) });
    all.type(text);
    all.server.text = "theirs";
    all.server.version = 7;
    await pause();
    await all.server.last().answer();
    return all;
  };

  test("overwrites nothing and loses nothing until the person decides", async () => {
    const { server, keeping, type } = await other("mine");
    expect(keeping.snapshot()).toMatchObject({ saving: "conflict", state: "mine" });
    type("mine too");
    await vi.advanceTimersByTimeAsync(60_000);
    expect(await keeping.flush()).toBe(false);
    expect(server.writes).toHaveLength(1);
    expect(server.text).toBe("theirs");
    expect(keeping.holdsBack()).toBe(true);
  });

  test("ends with mine over theirs", async () => {
    const { server, keeping } = await other("mine");
    await keeping.keepMine();
    await pause();
    expect(server.last()).toMatchObject({ text: "theirsmine", version: 7 });
    await server.last().answer();
    expect(keeping.snapshot()).toMatchObject({ saving: "kept", base: 8 });
  });

  test("ends with theirs, and undo brings mine back", async () => {
    const { server, keeping } = await other("mine");
    await keeping.takeTheirs();
    expect(keeping.snapshot()).toMatchObject({ saving: "kept", state: "theirs", base: 7 });
    keeping.undo();
    await pause();
    expect(server.last()).toMatchObject({ text: "mine", version: 7 });
  });

  test("stays where the other version cannot be had, and says so", async () => {
    const { server, keeping } = await other("mine");
    server.theirs = () => Promise.reject(failure(0));
    const again = new Keeping<string, number>(
      { state: "", base: 1 },
      { save: server.save, theirs: () => server.theirs(), quiet: 0, together: 0 },
    );
    again.change("text", () => "mine");
    await vi.advanceTimersByTimeAsync(0);
    await server.last().answer(failure(409));
    await again.takeTheirs();
    expect(again.snapshot()).toMatchObject({ saving: "conflict", state: "mine", trouble: "status 0" });
    expect(keeping.snapshot().state).toBe("mine");
  });

  test("an answer that arrives after the other version was taken changes nothing", async () => {
    const { server, keeping, type } = begin();
    type("a");
    await pause();
    const late = server.last();
    await late.answer(failure(409));
    await keeping.takeTheirs();
    type("b");
    await pause();
    await server.last().answer();
    expect(keeping.snapshot()).toMatchObject({ state: "b", base: 2, saving: "kept" });
    await late.answer();
    expect(keeping.snapshot()).toMatchObject({ state: "b", base: 2, saving: "kept" });
  });
});

describe("an answer that was lost", () => {
  const lose = async (taken: string) => {
    const all = begin({ alike: (a, b) => a.trim() === b.trim() });
    all.type("mine");
    await pause();
    all.server.text = taken;
    all.server.version = 2;
    await all.server.last().answer(failure(0));
    all.type("mine too");
    await vi.advanceTimersByTimeAsync(3000);
    await all.server.last().answer();
    return all;
  };

  test("is no conflict: what was taken is kept, and what came after follows it", async () => {
    const { server, keeping } = await lose(" mine ");
    expect(keeping.snapshot()).toMatchObject({ saving: "typing", state: "mine too", base: 2 });
    await pause();
    expect(server.last()).toMatchObject({ text: "mine too", version: 2 });
    await server.last().answer();
    expect(keeping.snapshot()).toMatchObject({ saving: "kept", base: 3, trouble: "" });
  });

  test("is a conflict where the other version is another's", async () => {
    const { keeping } = await lose("theirs");
    expect(keeping.snapshot()).toMatchObject({ saving: "conflict", state: "mine too" });
  });
});

describe("flush", () => {
  test("sends what is there at once, and what is changed while it does", async () => {
    const { server, keeping, type } = begin();
    type("a");
    const kept = keeping.flush();
    await vi.advanceTimersByTimeAsync(0);
    expect(server.last().text).toBe("a");
    type("ab");
    await server.last().answer();
    expect(server.last()).toMatchObject({ text: "ab", version: 2 });
    await server.last().answer();
    expect(await kept).toBe(true);
    expect(server.writes).toHaveLength(2);
  });

  test("takes the place of the write that was planned", async () => {
    const { server, keeping, type } = begin();
    type("a");
    const kept = keeping.flush();
    await pause();
    expect(server.writes).toHaveLength(1);
    await server.last().answer();
    expect(await kept).toBe(true);
  });

  test("waits for the write that is under way, and is false where that meets another version", async () => {
    const { server, keeping, type } = begin();
    type("a");
    await pause();
    const kept = keeping.flush();
    server.version = 5;
    await server.last().answer();
    expect(await kept).toBe(false);
    expect(keeping.snapshot()).toMatchObject({ saving: "conflict", state: "a" });
    expect(server.writes).toHaveLength(1);
  });

  test("is true at once where nothing is to be kept", async () => {
    const { server, keeping } = begin();
    expect(await keeping.flush()).toBe(true);
    expect(server.writes).toEqual([]);
  });
});

describe("the page goes", () => {
  const leaving = () => {
    const sent: [string, number, boolean][] = [];
    return { sent, ...begin({ leave: (text, kept, underWay) => sent.push([text, kept.base, underWay]) }) };
  };

  test("before anything was sent: all of it is", () => {
    const { sent, keeping, type } = leaving();
    expect(keeping.leave()).toBe(false);
    type("a");
    expect(keeping.holdsBack()).toBe(false);
    expect(keeping.leave()).toBe(true);
    expect(sent).toEqual([["a", 1, false]]);
  });

  test("while a write is under way: that goes on by itself, and only what came after is sent", async () => {
    const { sent, keeping, type } = leaving();
    type("a");
    await pause();
    expect(keeping.leave()).toBe(false);
    type("ab");
    expect(keeping.leave()).toBe(true);
    expect(sent).toEqual([["ab", 1, true]]);
  });

  test("with a conflict: nothing is sent, and the person is asked", async () => {
    const { sent, server, keeping, type } = leaving();
    type("a");
    await pause();
    await server.last().answer(failure(409));
    expect(keeping.leave()).toBe(false);
    expect(keeping.holdsBack()).toBe(true);
    expect(sent).toEqual([]);
  });

  test("where nothing can be sent in time the person is asked", () => {
    const { keeping, type } = begin();
    expect(keeping.holdsBack()).toBe(false);
    type("a");
    expect(keeping.leave()).toBe(false);
    expect(keeping.holdsBack()).toBe(true);
  });
});

test("a newer state is taken where nothing is unkept, and not otherwise", async () => {
  const { server, keeping, type } = begin();
  type("a");
  keeping.adopt({ state: "newer", base: 4 });
  expect(keeping.snapshot()).toMatchObject({ state: "a", base: 1 });
  await pause();
  await server.last().answer();
  keeping.adopt({ state: "newer", base: 4 });
  expect(keeping.snapshot()).toMatchObject({ state: "newer", base: 4, saving: "kept", canUndo: undefined });
});

test("what the server has made anew is a change that is kept already, and can be undone", async () => {
  const { server, keeping, type } = begin();
  type("a");
  await pause();
  keeping.take("set back", { state: "first", base: 6 });
  await server.last().answer(); // of the time before
  expect(keeping.snapshot()).toMatchObject({ state: "first", base: 6, saving: "kept", canUndo: "set back" });
  server.version = 6;
  keeping.undo();
  await pause();
  expect(server.last()).toMatchObject({ text: "a", version: 6 });
});

test("what is learned of the kept state changes neither it nor what can be undone", async () => {
  const { server, keeping, type } = begin();
  type("a");
  keeping.learn((version) => version + 4);
  expect(keeping.snapshot()).toMatchObject({ state: "a", base: 5, saving: "typing", canUndo: "text" });
  await pause();
  expect(server.last()).toMatchObject({ text: "a", version: 5 });
});

test("what the server has already is no change", async () => {
  const { server, keeping, type } = begin();
  keeping.know((text) => `${text}known `);
  expect(keeping.snapshot()).toMatchObject({ state: "known ", saving: "kept", canUndo: undefined });
  type("known a");
  keeping.undo();
  await vi.advanceTimersByTimeAsync(60_000);
  expect(server.writes).toEqual([]);
});

test("parts that were taken are not sent again after a failure", async () => {
  const sent: [string, string][] = [];
  let fails = true;
  const keeping = new Keeping<string, number>(
    { state: "", base: 1 },
    {
      quiet: 500,
      together: 0,
      theirs: () => Promise.reject(failure(0)),
      save: async (text, kept, mark) => {
        sent.push([kept.state, text]);
        mark({ state: "half", base: 2 });
        if (fails) throw failure(0);
        return 3;
      },
    },
  );
  keeping.change("text", () => "whole");
  await pause();
  fails = false;
  await vi.advanceTimersByTimeAsync(3000);
  expect(sent).toEqual([
    ["", "whole"],
    ["half", "whole"],
  ]);
  expect(keeping.snapshot()).toMatchObject({ saving: "kept", base: 3 });
});

test("listeners hear of each change once it can be seen", () => {
  const { keeping, type } = begin();
  const seen: string[] = [];
  const stop = keeping.subscribe(() => seen.push(keeping.snapshot().state));
  type("a");
  stop();
  type("b");
  expect(seen).toEqual(["a"]);
  expect(keeping.snapshot()).toBe(keeping.snapshot());
});

test("two that wait for the same write both hear that it is done", async () => {
  const { server, keeping, type } = begin();
  type("a");
  const both = Promise.all([keeping.flush(), keeping.flush()]);
  await vi.advanceTimersByTimeAsync(0);
  await server.last().answer();
  expect(await both).toEqual([true, true]);
  expect(server.writes).toHaveLength(1);
});

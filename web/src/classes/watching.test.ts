import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { AttemptView, Standings } from "../api/types";
import { begunBy, merged, slipsOf, Watching, type Wire } from "./watching";

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const attempt = (id: string, answered: number, slips: [ask: string, slip: string][] = []): AttemptView =>
  ({
    id,
    student: `student ${id}`,
    problem: "p",
    standing: { answered, of: 9, asks: [], slips: slips.map(([ask, slip]) => ({ ask, slip, times: 1 })) },
    marks: {},
    updated_at: "",
  }) as unknown as AttemptView;

const standings = (at: string, ...attempts: AttemptView[]): Standings =>
  ({
    at,
    attempts,
    students: [],
    problems:
      at === "1" ? [{ id: "p", title: "P", asks: [{ id: "t", step: "statistic", label: "The statistic" }] }] : [],
    slips: {},
  }) as unknown as Standings;

/** A server whose answers the test gives one by one. */
function server() {
  const asked: (string | undefined)[] = [];
  const answers: { done: (s: Standings) => void; fail: (e: Error) => void }[] = [];
  let told = () => {};
  let listening = 0;
  const wire: Wire = {
    fetch: (since) => {
      asked.push(since);
      return new Promise((done, fail) => answers.push({ done, fail }));
    },
    listen: (on) => {
      told = on;
      listening++;
      return () => {
        listening--;
      };
    },
    wait: (time) => new Promise((done) => setTimeout(done, time)),
  };
  return {
    wire,
    asked,
    tell: () => told(),
    listening: () => listening,
    answer: async (s: Standings) => {
      answers.shift()?.done(s);
      await vi.advanceTimersByTimeAsync(0);
    },
    fail: async () => {
      answers.shift()?.fail(new Error("The line is broken."));
      await vi.advanceTimersByTimeAsync(0);
    },
  };
}

test("news is fetched since what is known, and put over it", async () => {
  const { wire, asked, tell, answer, listening } = server();
  const watching = new Watching(wire);
  const end = watching.start();
  expect(asked).toEqual([undefined]);
  await answer(standings("1", attempt("a", 1), attempt("b", 2)));
  tell();
  expect(asked).toEqual([undefined, "1"]);
  await answer(standings("2", attempt("b", 3), attempt("c", 1)));
  const { standings: now } = watching.seen;
  expect(now?.attempts.map((each) => [each.id, each.standing.answered])).toEqual([
    ["a", 1],
    ["b", 3],
    ["c", 1],
  ]);
  expect(now?.problems).toHaveLength(1);
  expect(now?.at).toBe("2");
  end();
  expect(listening()).toBe(0);
});

test("what comes while a request is under way is fetched by one more, and no more", async () => {
  const { wire, asked, tell, answer } = server();
  const watching = new Watching(wire);
  watching.start();
  await answer(standings("1"));
  tell();
  tell();
  tell();
  expect(asked).toHaveLength(2);
  await answer(standings("2", attempt("a", 1)));
  expect(asked).toEqual([undefined, "1", "2"]);
  await answer(standings("3"));
  expect(asked).toHaveLength(3);
});

test("a failure is said, and all is fetched anew after a while", async () => {
  const { wire, asked, tell, answer, fail } = server();
  const watching = new Watching(wire);
  watching.start();
  await answer(standings("1", attempt("a", 1)));
  tell();
  await fail();
  expect(watching.seen.trouble).toBe("The line is broken.");
  expect(watching.seen.standings?.attempts).toHaveLength(1);
  await vi.advanceTimersByTimeAsync(3000);
  expect(asked).toEqual([undefined, "1", undefined]);
  await answer(standings("1", attempt("b", 1)));
  expect(watching.seen).toMatchObject({ trouble: "" });
});

test("who does nothing is told of by nobody: all is fetched anew once a minute, until nobody watches", async () => {
  const { wire, asked, answer } = server();
  const watching = new Watching(wire);
  const end = watching.start();
  await answer(standings("1"));
  await vi.advanceTimersByTimeAsync(60_000);
  expect(asked).toEqual([undefined, undefined]);
  end();
  await answer(standings("9", attempt("late", 1)));
  await vi.advanceTimersByTimeAsync(120_000);
  expect(asked).toHaveLength(2);
  expect(watching.seen.standings?.at).toBe("1"); // what came after the end is not shown
});

test("slips are counted by students, those of most first, each with its ask", () => {
  const all = standings(
    "1",
    attempt("a", 1, [
      ["t", "sign"],
      ["t", "one_tail"],
    ]),
    attempt("b", 2, [["t", "one_tail"]]),
    attempt("c", 2),
  );
  const found = slipsOf({ ...all, slips: { one_tail: "That is for one tail." } });
  expect(found.map((each) => [each.slip, each.students.length, each.label, each.says])).toEqual([
    ["one_tail", 2, "The statistic", "That is for one tail."],
    ["sign", 1, "The statistic", ""],
  ]);
  expect(begunBy(all, "p")).toBe(3);
  expect(begunBy(all, "q")).toBe(0);
  expect(slipsOf(merged(standings("2"), all))).toEqual([]); // of a problem that was taken out
});

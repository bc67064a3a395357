// @vitest-environment happy-dom
import { beforeEach, expect, test } from "vitest";
import { found, groupedBy, lastUsedFirst, noteOpened, openedAt } from "./finding";

beforeEach(() => localStorage.clear());

test.each([
  ["berths", ["Two berths"]],
  ["TWO load", ["Two berths"]],
  ["uber", ["Überfahrt"]],
  ["", ["Two berths", "Überfahrt"]],
  ["two wind", []],
])("%j is looked for", (looked, want) => {
  const things = [
    { title: "Two berths", says: "loading times" },
    { title: "Überfahrt", says: "fuel and wind" },
  ];
  expect(found(things, looked, (each) => `${each.title} ${each.says}`).map((each) => each.title)).toEqual(want);
});

test("things are parted by a name", () => {
  expect(groupedBy(["pier", "quay", "pontoon"], (each) => each[0] ?? "")).toEqual([
    { name: "p", things: ["pier", "pontoon"] },
    { name: "q", things: ["quay"] },
  ]);
});

test("what was opened or changed last comes first", () => {
  const things = ["a", "b", "c"].map((id, i) => ({ id, updated_at: `2026-11-0${i + 1}T10:00:00Z` }));
  expect(lastUsedFirst(things).map((each) => each.id)).toEqual(["c", "b", "a"]);
  noteOpened("a", Date.parse("2026-11-09T10:00:00Z"));
  expect(lastUsedFirst(things).map((each) => each.id)).toEqual(["a", "c", "b"]);
});

test("only so many are remembered", () => {
  for (let i = 0; i < 310; i++) noteOpened(String(i), i);
  expect(Object.keys(openedAt())).toHaveLength(300);
  expect(openedAt()["0"]).toBeUndefined();
});

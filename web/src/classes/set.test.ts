import { expect, test } from "vitest";
import type { SetView } from "../api/types";
import { editedOf, missing, requestOf } from "./set";

const set = {
  id: "s",
  version: 4,
  settings: { title: "Week 1", solution: "after_due" },
  released: false,
  problems: [{ id: "a", version: 2, title: "A", points: { t: 2 } }],
} as unknown as SetView;

test("a set is sent as it is edited: new problems with what they are made from, and by their ids once they have them", () => {
  const { state } = editedOf(set);
  const edited = { ...state, problems: [{ id: "new", title: "B", points: {}, from: "mine" }, ...state.problems] };
  expect(requestOf(edited, 4, new Map())).toEqual({
    version: 4,
    settings: set.settings,
    released: false,
    problems: [
      { from: "mine", points: {} },
      { id: "a", points: { t: 2 } },
    ],
  });
  expect(requestOf(edited, 5, new Map([["new", "b"]])).problems[0]).toEqual({ id: "b", points: {} });
});

test("what a set is without is said", () => {
  const { state } = editedOf(set);
  expect(missing(state)).toEqual([]);
  expect(missing({ ...state, problems: [], settings: { ...state.settings, title: " " } })).toEqual([
    "a title",
    "a problem",
  ]);
});

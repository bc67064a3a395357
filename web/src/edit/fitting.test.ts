import { expect, test } from "vitest";
import type { Description } from "../api/types";
import { type AtHand, needsOf, whyNot } from "./fitting";

const role = (id: string, kinds: string[], more = {}) => ({ id, label: id, says: "", kinds, min: 1, max: 1, ...more });
const twoMeans = {
  takes: ["variables", "summary"],
  roles: [role("response", ["number"]), role("group", ["category"], { levels: 2 })],
} as unknown as Description;
const pairs = {
  takes: ["variables"],
  roles: [role("first", ["number"]), role("second", ["number"])],
} as unknown as Description;
const table = {
  takes: ["variables", "counts"],
  roles: [role("row", ["category"]), role("column", ["category"])],
} as unknown as Description;
const several = {
  takes: ["variables"],
  roles: [role("response", ["number"]), role("predictors", ["number", "category"], { max: 0 })],
} as unknown as Description;
const cases = (kinds: AtHand["kinds"]): AtHand => ({ form: "cases", kinds });

test.each<[string, Description, AtHand, string | null]>([
  ["nothing yet", twoMeans, cases({}), null],
  ["a number and a category", twoMeans, cases({ number: 1, category: 1 }), null],
  ["no category", twoMeans, cases({ number: 2 }), "It needs one category, and the data have no categories."],
  [
    "one number for pairs",
    pairs,
    cases({ number: 1, category: 3 }),
    "It needs two numbers, and the data have one number.",
  ],
  ["a summary", twoMeans, { form: "summary", kinds: {} }, null],
  [
    "a summary for pairs",
    pairs,
    { form: "summary", kinds: {} },
    "It works from the cases themselves, and a summary is given.",
  ],
  ["counts", table, { form: "counts", kinds: {} }, null],
  [
    "counts for means",
    twoMeans,
    { form: "counts", kinds: {} },
    "It works from the cases themselves, and counts are given.",
  ],
  ["a column a group", twoMeans, { form: "groups", kinds: { number: 4 } }, null],
  [
    "a column a group for pairs",
    pairs,
    { form: "groups", kinds: { number: 2 } },
    "The data have a column a group: it needs a row for each case.",
  ],
  ["a response alone", several, cases({ number: 1 }), "It needs two variables, and the data have one."],
  ["a response and a category", several, cases({ number: 1, category: 1 }), null],
])("%s", (_, description, atHand, want) => {
  expect(whyNot(description, atHand)).toBe(want);
});

test("what it works with is said in words", () => {
  expect(needsOf(twoMeans)).toBe("a number (response), a category with two levels (group); or a summary");
  expect(needsOf(several)).toBe("a number (response), numbers or categories (predictors)");
});

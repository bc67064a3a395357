import { expect, test } from "vitest";
import type { Description, Draft } from "../api/types";
import { piecesOf, takenBy, targetsOf } from "./numbersIn";

test.each<[string, string[]]>([
  ["Of 18 loadings at the Mole the mean is 12.38 min (sd 0.67).", ["18", "12.38", "0.67"]],
  ["Mit α = 5 % und 12,38 min", ["5 %", "12,38"]],
  ["H0 says x1 is −2.5, not 1e9 or A4", ["-2.5"]],
  ["10 000 passengers, 1\u202f250 of them in 2026", ["10000", "1250", "2026"]],
  ["Nothing to count.", []],
  ["From 3 to 5.", ["3", "5"]],
])("the numbers of %j", (question, want) => {
  const pieces = piecesOf(question);
  expect(pieces.map((piece) => piece.text).join("")).toBe(question);
  expect(pieces.flatMap((piece) => piece.number ?? [])).toEqual(want);
});

const draft = {
  alpha: "0.05",
  entry: "data",
  options: {},
  summary: [
    { label: "Mole", n: "", mean: "", sd: "" },
    { label: "", n: "", mean: "", sd: "" },
  ],
} as unknown as Draft;
const description = {
  takes: ["variables", "summary"],
  options: [
    { id: "difference", type: "number", label: "Difference under H₀" },
    { id: "variances", type: "choice", label: "Variances" },
  ],
} as unknown as Description;

test("a number goes into the field that it is put into, and into no other", () => {
  const targets = targetsOf(draft, description);
  expect(targets.map((each) => each.label)).toEqual([
    "α",
    "confidence of intervals",
    "Difference under H₀",
    "n of Mole",
    "mean of Mole",
    "sd of Mole",
    "n of group 2",
    "mean of group 2",
    "sd of group 2",
  ]);
  const put = (id: string, text: string) => targets.find((each) => each.id === id)?.put(draft, text);
  expect(put("alpha", "1 %")?.alpha).toBe("1 %");
  expect(put("confidence", "90 %")?.confidence).toBe(0.9);
  expect(put("difference", "2,5")?.options).toEqual({ difference: 2.5 });
  expect(put("1/mean", "12,38")).toMatchObject({ entry: "summary", summary: [{ mean: "" }, { mean: "12,38" }] });
  expect(targetsOf(draft, { ...description, takes: ["variables"] }).some((each) => each.id === "0/n")).toBe(false);
});

test("what was taken is what stands in a field, however it is written", () => {
  const taken = { ...draft, entry: "summary", summary: [{ label: "Mole", n: "18", mean: "12.38", sd: "" }] } as Draft;
  const targets = targetsOf(taken, description);
  expect(takenBy("12,38", targets).map((each) => each.id)).toEqual(["0/mean"]);
  expect(takenBy("5 %", targets).map((each) => each.id)).toEqual(["alpha"]);
  expect(takenBy("19", targets)).toEqual([]);
});

import { expect, test } from "vitest";
import type { Quantity } from "../api/types";
import { quotablesIn, quoted } from "./quoted";

const quantities = [
  { id: "alpha", label: "Significance level", display: "0.05" },
  { id: "n_1", label: "Cases, Mole", display: "18" },
  { id: "mean_1", label: "Mean, Mole", display: "12.38" },
  { id: "mean_2", label: "Mean, Quarry", display: "−1.5" },
] as Quantity[];

test("numbers of the data are found in the question, however they are written; alpha is none", () => {
  const question = "At Mole 18 loadings took 12,38 min, −1.5 and again 18, at α = 0.05 on 180 days.";
  expect(quotablesIn(question, quantities).map((each) => [each.text, each.id])).toEqual([
    ["18", "n_1"],
    ["12,38", "mean_1"],
    ["−1.5", "mean_2"],
  ]);
});

test("every one of a number is quoted, and what is quoted already is not found again", () => {
  const question = "At Mole 18 of 180 loadings, 18 in all.";
  const [first] = quotablesIn(question, quantities);
  const next = quoted(question, first as never);
  expect(next).toBe("At Mole @{n_1} of 180 loadings, @{n_1} in all.");
  expect(quotablesIn(next, quantities)).toEqual([]);
});

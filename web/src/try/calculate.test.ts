import { expect, test } from "vitest";
import { CalculationError, calculate, writeResult } from "./calculate";

const columns = new Map([
  ["minutes", [2, 4, 6]],
  ["wind, Mole", [1, 1, 2]],
  ["short", [1]],
]);
const work = (text: string, last?: number) => calculate(text, columns, last);

test.each([
  ["1 + 2 * 3", 7],
  ["(1 + 2) × 3", 9],
  ["2 − 5", -3],
  ["-2²", -4],
  ["(−2)²", 4],
  ["2^3^2", 512],
  ["2^-1", 0.5],
  ["10 ÷ 4 / 5", 0.5],
  ["0,67² / 18", 0.67 ** 2 / 18],
  [".5 + ,5", 1],
  ["1.2e3 + 1", 1201],
  ["sqrt(16) + √9", 7],
  ["√(0.67²/18 + 2.13²/15)", Math.sqrt(0.67 ** 2 / 18 + 2.13 ** 2 / 15)],
  ["sum([minutes])", 12],
  ["Σ[minutes]²", 56],
  ["sum(([minutes] - 4)^2) / (count([minutes]) - 1)", 4],
  ["sum([minutes] * [wind, Mole])", 18],
  ["abs(-3)", 3],
])("%s", (text, want) => expect(work(text)).toBeCloseTo(want, 12));

test("what was found last goes on", () => expect(work("ans / 2", 5)).toBe(2.5));

test.each([
  ["", "missing at the end"],
  ["1 +", "missing at the end"],
  ["(1 + 2", "not closed"],
  ["[minutes", "not closed"],
  ["1 2", "between two numbers"],
  ["[minutes]", "whole column"],
  ["[hours]", "no column “hours”"],
  ["[minutes] + [short]", "not as many"],
  ["1 / 0", "no number"],
  ["√(0 − 1)", "no number"],
  ["log(2)", "does not know “log”"],
  ["2 $ 3", "no sign"],
  ["* 2", "missing before"],
  ["ans", "Nothing was worked out"],
])("%s is refused with its reason", (text, says) => {
  expect(() => work(text)).toThrow(CalculationError);
  expect(() => work(text)).toThrow(says);
});

test("a result has no dust of binary arithmetic", () => {
  expect(writeResult(0.1 + 0.2)).toBe("0.3");
  expect(writeResult(-2.0640000000000001)).toBe("−2.064");
  expect(writeResult(0)).toBe("0");
  expect(writeResult(1e-9)).toBe("1.000000e−9");
});

import { expect, test } from "vitest";
import { axisNumber, inNumerals } from "./numerals";

const solution = {
  conclusion: "At α = 0.05 the data show more (p = 0.0553).",
  quantities: [
    { id: "p", label: "p-value", value: 0.0553, display: "0.0553", full: "0.0552771" },
    { id: "p_low", display: "<\u202f0.0001" },
    { id: "r", display: "−0.71", formula: { symbolic: "r", numeric: "\\frac{0.5}{1.25}" } },
    { id: "t", display: "−0.064" },
  ],
  tables: [
    { columns: [{ id: "mean" }, { id: "p_holm" }], shown: [["0.5", "0.02"]], rows: [{ mean: 0.5, p_holm: 0.02 }] },
  ],
  controls: [{ label: "Alpha", value: 0.05, choices: [{ value: "0.05", label: "0.05" }] }],
  steps: [{ key: "p = 0.0553", blocks: [{ text: [{ words: "12.5 to 13.75\u00a0min" }] }] }],
};

test("with point and zero a solution is itself", () => {
  expect(inNumerals(solution, { mark: "point", zero: "kept" })).toBe(solution);
});

test("with a comma what is read has it, and what is set or copied in full has not", () => {
  const out = inNumerals(solution, { mark: "comma", zero: "kept" });
  expect(out.conclusion).toBe("At α = 0,05 the data show more (p = 0,0553).");
  expect(out.quantities[0]).toMatchObject({ display: "0,0553", full: "0.0552771", value: 0.0553 });
  expect(out.quantities[2]?.formula).toEqual({ symbolic: "r", numeric: "\\frac{0{,}5}{1{,}25}" });
  expect(out.tables[0]?.shown).toEqual([["0,5", "0,02"]]);
  expect(out.controls[0]?.choices).toEqual([{ value: "0.05", label: "0,05" }]);
  expect(out.steps[0]?.blocks[0]?.text[0]?.words).toBe("12,5 to 13,75\u00a0min");
});

test("without the zero only what cannot be above 1 loses it", () => {
  const out = inNumerals(solution, { mark: "point", zero: "dropped" });
  expect(out.quantities.map((each) => each.display)).toEqual([".0553", "<\u202f.0001", "−.71", "−0.064"]);
  expect(out.tables[0]?.shown).toEqual([["0.5", ".02"]]);
  expect(out.conclusion).toBe("At α = 0.05 the data show more (p = .0553).");
  expect(out.steps[0]?.key).toBe("p = .0553");
});

test("both at once", () => {
  const out = inNumerals(solution, { mark: "comma", zero: "dropped" });
  expect(out.quantities.map((each) => each.display)).toEqual([",0553", "<\u202f,0001", "−,71", "−0,064"]);
});

test.each([
  ["100,000", "point", "100\u202f000"],
  ["-1,500", "point", "−1500"],
  ["10,000", "comma", "10\u202f000"],
  ["-0.5", "comma", "−0,5"],
  ["1,234,567.5", "point", "1\u202f234\u202f567.5"],
] as const)("%s on an axis with a decimal %s", (given, mark, want) => {
  expect(axisNumber(given, mark)).toBe(want);
});

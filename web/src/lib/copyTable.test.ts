import { expect, test } from "vitest";
import type { Table } from "../api/types";
import { copiedOf, tableHTML, tableMarkdown, tableText } from "./copyTable";

const page = {
  title: "Loading <time>",
  columns: [
    { id: "berth", label: "Berth", numeric: false },
    { id: "weight", label: "weight", numeric: true, hidden: true },
    { id: "mean", label: "mean", unit: "min", numeric: true },
  ],
  rows: [
    { berth: "Mole|a", weight: 2, mean: 12.383333333333333 },
    { berth: "Quarry", weight: 3, mean: null },
  ],
  shown: [
    ["Mole|a", "2", "−12.383"],
    ["Quarry", "3", ""],
  ],
} as unknown as Table;

test("a table is copied without the columns that only formulas use, with all digits or as it is shown", () => {
  expect(tableText(copiedOf([page], "all"))).toBe("Berth\tmean (min)\nMole|a\t12.383333333333333\nQuarry\t");
  expect(tableText(copiedOf([page], "shown"))).toBe("Berth\tmean (min)\nMole|a\t−12.383\nQuarry\t");
  expect(copiedOf([page, page], "all").rows).toHaveLength(4);
  expect(copiedOf([], "all")).toEqual({ head: [], numeric: [], rows: [] });
});

test("as rich table it has its title, and numbers to the right", () => {
  expect(tableHTML(copiedOf([page], "shown"))).toBe(
    "<table><caption>Loading &lt;time&gt;</caption>" +
      '<thead><tr><th>Berth</th><th align="right">mean (min)</th></tr></thead>' +
      '<tbody><tr><td>Mole|a</td><td align="right">−12.383</td></tr>' +
      '<tr><td>Quarry</td><td align="right"></td></tr></tbody></table>',
  );
});

test("a bar in a name does not end a cell of markdown", () => {
  expect(tableMarkdown(copiedOf([page], "shown")).split("\n")).toEqual([
    "| Berth | mean (min) |",
    "| --- | ---: |",
    "| Mole\\|a | −12.383 |",
    "| Quarry |  |",
  ]);
});

test("a name with a tab or a line's end in it keeps to its cell", () => {
  const table = { head: ["a\tb", "n"], numeric: [false, true], rows: [["c\nd", "3\u00a0min"]] };
  expect(tableText(table)).toBe("a b\tn\nc d\t3\u00a0min");
  expect(tableMarkdown(table).split("\n")).toHaveLength(3);
});

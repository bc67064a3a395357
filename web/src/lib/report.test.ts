import { expect, test } from "vitest";
import type { Quantity, ReportLine } from "../api/types";
import { type ReportStyle, reportAs } from "./report";

const quantities = new Map([
  ["t", { id: "t", label: "Test statistic", display: "−2.064" } as Quantity],
  ["difference", { id: "difference", label: "Mole − Quarry", display: "−0.51", unit: "min" } as Quantity],
]);
const block = {
  kind: "report",
  text: [
    { words: "Mole & Quarry: " },
    { words: "t", style: "emphasis" },
    { words: "(31) = " },
    { ref: "t" },
    { words: ", " },
    { words: "p", style: "symbol" },
    { words: " < 0.05" },
  ],
  sentence: [
    { words: "They differ (" },
    { words: "t", style: "symbol" },
    { words: " = " },
    { ref: "t" },
    { words: ")." },
  ],
  numbers: ["difference", "t", "gone"],
} as ReportLine;

test.each<[ReportStyle, string, string, string]>([
  [
    "journal",
    "Mole & Quarry: t(31) = −2.064, p < 0.05",
    "Mole & Quarry: *t*(31) = −2.064, *p* \\< 0.05",
    "<p>Mole &amp; Quarry: <i>t</i>(31) = −2.064, <i>p</i> &lt; 0.05</p>",
  ],
  ["sentence", "They differ (t = −2.064).", "They differ (*t* = −2.064).", "<p>They differ (<i>t</i> = −2.064).</p>"],
  [
    "row",
    "Mole − Quarry\tTest statistic\n−0.51\u00a0min\t−2.064",
    "| Mole − Quarry | Test statistic |\n| ---: | ---: |\n| −0.51\u00a0min | −2.064 |",
    "<table><tr><th>Mole − Quarry</th><th>Test statistic</th></tr><tr><td>−0.51\u00a0min</td><td>−2.064</td></tr></table>",
  ],
  [
    "list",
    "Mole − Quarry: −0.51\u00a0min\nTest statistic: −2.064",
    "- Mole − Quarry: −0.51\u00a0min\n- Test statistic: −2.064",
    "<ul><li>Mole − Quarry: −0.51\u00a0min</li><li>Test statistic: −2.064</li></ul>",
  ],
])("%s as text, as markdown and as rich text", (style, plain, markdown, html) => {
  expect(reportAs(style, block, quantities)).toEqual({ plain, markdown, html });
});

test("what is no sentence yet is the line", () => {
  const { sentence: _, ...line } = block;
  expect(reportAs("sentence", line as ReportLine, quantities).plain).toBe(reportAs("journal", block, quantities).plain);
});

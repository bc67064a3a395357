import { expect, test } from "vitest";
import type { Piece, Quantity, ReportLine } from "../api/types";
import { type ReportStyle, reportAs, run } from "./report";

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
    '<table><thead><tr><th align="right">Mole − Quarry</th><th align="right">Test statistic</th></tr></thead>' +
      '<tbody><tr><td align="right">−0.51\u00a0min</td><td align="right">−2.064</td></tr></tbody></table>',
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

test("a symbol keeps its index in a word processor", () => {
  const text = [{ words: "μ_M − μ_Q < 0", style: "symbol" as const }, { words: " of H₀" }];
  expect(run(text as Piece[], quantities).html).toBe("<p><i>μ</i><sub>M</sub> − <i>μ</i><sub>Q</sub> &lt; 0 of H₀</p>");
});

test("what is no sentence yet is the line", () => {
  const { sentence: _, ...line } = block;
  expect(reportAs("sentence", line as ReportLine, quantities).plain).toBe(reportAs("journal", block, quantities).plain);
});

// @vitest-environment happy-dom
import { expect, test } from "vitest";
import type { Quantity } from "../api/types";
import { definition, fillIn, mathML, texNumber, texText, wholeTeX } from "./TeX";

const quantities = new Map(
  [
    { id: "n", symbol: "n", display: "10\u202f000" },
    { id: "d", symbol: "\\bar{d}", display: "−1.2" },
    { id: "sd", symbol: "s_d", display: "0.5" },
  ].map((quantity) => [quantity.id, quantity as Quantity]),
);

test.each([
  ["−1.25", "-1.25"],
  ["10\u202f000", "10\\,000"],
  ["<\u202f0.0001", "\\lt \\,0.0001"],
  ["3.1 × 10⁻⁷", "3.1 \\times  10⁻⁷"],
])("%s as TeX", (display, want) => {
  expect(texNumber(display)).toBe(want);
});

test("symbols and numbers stand where a formula names its inputs, and say what opens", () => {
  const printed = "\\frac{@{d}}{@{sd}/\\sqrt{@{n}}}";
  expect(fillIn(printed, "symbols", quantities)).toBe(
    "\\frac{{\\htmlData{ref=d}{\\bar{d}}}}{{\\htmlData{ref=sd}{s_d}}/\\sqrt{{\\htmlData{ref=n}{n}}}}",
  );
  expect(fillIn(printed, "numbers", quantities)).toContain("{\\htmlData{ref=n}{10\\,000}}");
  expect(fillIn("@{x}", "numbers", quantities)).toBe("?");
});

test("a number below 0 stands in brackets where it is multiplied, and its power outside them", () => {
  expect(fillIn("@({d})^{2}", "numbers", quantities)).toBe("{\\htmlData{ref=d}{(-1.2)^{2}}}");
  expect(fillIn("@({sd})^{2}", "numbers", quantities)).toBe("{\\htmlData{ref=sd}{0.5^{2}}}");
  expect(fillIn("@({d})^{2}", "symbols", quantities)).toBe("{\\htmlData{ref=d}{\\bar{d}^{2}}}");
  expect(fillIn("1-@{d}", "numbers", quantities)).toBe("1-{\\htmlData{ref=d}{-1.2}}");
});

test("a symbol is defined by its formula, but not by itself", () => {
  const t = { symbol: "t", formula: { symbolic: "@{d}/@{sd}" } } as Quantity;
  expect(definition(t, quantities)).toBe("t = {\\htmlData{ref=d}{\\bar{d}}}/{\\htmlData{ref=sd}{s_d}}");
  const ratio = { symbol: "\\bar{d}/s_d", formula: { symbolic: "@{d}/@{sd}" } } as Quantity;
  expect(definition(ratio, quantities)).toBe("{\\htmlData{ref=d}{\\bar{d}}}/{\\htmlData{ref=sd}{s_d}}");
});

test("a formula is copied whole, in TeX that any program reads, and as MathML", async () => {
  const t = {
    id: "se",
    symbol: "\\mathrm{se}",
    display: "0.158",
    unit: "%",
    formula: { symbolic: "@{sd}/\\sqrt{@{n}}" },
  } as Quantity;
  expect(wholeTeX(t, quantities)).toBe(
    "\\mathrm{se} = {s_d}/\\sqrt{{n}} = {0.5}/\\sqrt{{10\\,000}} = 0.158\\,\\text{\\%}",
  );
  const small = { ...t, display: "<\u202f0.0001", unit: undefined, formula: undefined } as Quantity;
  expect(wholeTeX(small, quantities)).toBe("\\mathrm{se} \\lt \\,0.0001");
  const math = await mathML("\\sqrt{{n}}");
  expect(math).toMatch(/^<math xmlns="http:\/\/www.w3.org\/1998\/Math\/MathML" display="block">.*<\/math>$/);
  expect(math).toContain("<msqrt>");
});

test.each(["min", "5 %", "a}b", "\\frac", "m_2^2~", "$&#{"])("the words %s are set as they are", async (words) => {
  const math = await mathML(texText(words));
  expect(math).not.toContain("merror");
  expect(
    new DOMParser().parseFromString(math, "text/xml").querySelector("mtext")?.textContent?.replaceAll("\u00a0", " "),
  ).toBe(words);
});

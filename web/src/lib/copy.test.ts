import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Piece, Quantity, Table } from "../api/types";
import { copyReport, copyTable, words } from "./copy";

let copied: Record<string, string> = {};

beforeEach(() => {
  copied = {};
  class Item {
    constructor(readonly parts: Record<string, Blob>) {}
  }
  vi.stubGlobal("ClipboardItem", Item);
  vi.stubGlobal("navigator", {
    clipboard: {
      writeText: async (text: string) => {
        copied["text/plain"] = text;
      },
      write: async ([item]: Item[]) => {
        for (const [type, blob] of Object.entries(item?.parts ?? {})) copied[type] = await blob.text();
      },
    },
  });
});
afterEach(() => vi.unstubAllGlobals());

const quantities = new Map([
  ["t", { id: "t", display: "−2.064" } as Quantity],
  ["difference", { id: "difference", display: "−0.51", unit: "min" } as Quantity],
]);

test("a number in a text has its unit, and other words where the text gives them", () => {
  expect(words({ ref: "difference" } as Piece, quantities)).toBe("−0.51\u00a0min");
  expect(words({ ref: "difference", words: "half a minute" } as Piece, quantities)).toBe("half a minute");
  expect(words({ words: "of" } as Piece, quantities)).toBe("of");
  expect(words({ ref: "gone" } as Piece, quantities)).toBe("");
});

test("a report is copied as text and with its italics", async () => {
  const text = [
    { words: "Mole & Quarry: " },
    { words: "t", style: "emphasis" },
    { words: "(31) = " },
    { ref: "t" },
    { words: ", p < 0.05" },
  ] as Piece[];
  await copyReport(text, quantities);
  expect(copied["text/plain"]).toBe("Mole & Quarry: t(31) = −2.064, p < 0.05");
  expect(copied["text/html"]).toBe("<p>Mole &amp; Quarry: <i>t</i>(31) = −2.064, p &lt; 0.05</p>");
});

test("where a browser knows no parts, the text alone is copied", async () => {
  vi.stubGlobal("ClipboardItem", undefined);
  await copyReport([{ ref: "t" }] as Piece[], quantities);
  expect(copied).toEqual({ "text/plain": "−2.064" });
});

test("a table is copied with all digits, and without the columns that only formulas use", async () => {
  await copyTable({
    columns: [
      { id: "berth", label: "Berth" },
      { id: "mean", label: "mean", unit: "min", numeric: true },
      { id: "weight", label: "weight", numeric: true, hidden: true },
    ],
    rows: [
      { berth: "Mole", mean: 12.383333333333333, weight: 2 },
      { berth: "Quarry", mean: null, weight: 3 },
    ],
  } as unknown as Table);
  expect(copied["text/plain"]).toBe("Berth\tmean (min)\nMole\t12.383333333333333\nQuarry\t");
});

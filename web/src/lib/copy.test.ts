import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Piece, Quantity } from "../api/types";
import { copyRich, words } from "./copy";

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

test("rich text is copied beside the plain one", async () => {
  await copyRich("t(31)", "<p><i>t</i>(31)</p>");
  expect(copied).toEqual({ "text/plain": "t(31)", "text/html": "<p><i>t</i>(31)</p>" });
});

test("where a browser knows no parts, the text alone is copied", async () => {
  vi.stubGlobal("ClipboardItem", undefined);
  await copyRich("−2.064", "<p>−2.064</p>");
  expect(copied).toEqual({ "text/plain": "−2.064" });
});

import { expect, test } from "vitest";
import type { Part } from "../api/types";
import { moved } from "../app/Sortable";
import { alike, learnt, over, rewritten, seen, without, withParagraph } from "./report";

const t: Part = { id: "t", problem: "a", at: "number/t", was: "2.06" };
const table: Part = { id: "table", problem: "b", at: "table/cases", was: "#1" };
const own: Part = { id: "own", text: "So much.", problem: "a" };
const ids = (parts: readonly Part[]) => parts.map((part) => part.id);

test("a paragraph quotes of the problem before it, else of the one after", () => {
  expect(withParagraph([t, table], 1, "new")[1]).toEqual({ id: "new", text: "", problem: "a" });
  expect(withParagraph([t, table], 2, "new")[2]).toEqual({ id: "new", text: "", problem: "b" });
  expect(withParagraph([t, table], 0, "new")[0]).toEqual({ id: "new", text: "", problem: "a" });
  expect(withParagraph([], 0, "new")).toEqual([{ id: "new", text: "" }]);
});

test("a part takes the place of the one that it is put on", () => {
  expect(ids(moved([t, table, own], "t", "own"))).toEqual(["table", "own", "t"]);
  expect(ids(moved([t, table, own], "own", "t"))).toEqual(["own", "t", "table"]);
  const same = [t, table];
  expect(moved(same, "t", "t")).toBe(same);
  expect(moved(same, "t", "nowhere")).toBe(same);
  expect(ids(without([t, table], "t"))).toEqual(["table"]);
});

test("what is written anew reads anew; what was seen reads as it does now", () => {
  expect(rewritten([{ ...own, was: "old" }, t], "own", { text: "@{t}" })).toEqual([{ ...own, text: "@{t}" }, t]);
  expect(seen([t, table], "t", "2.11")).toEqual([{ ...t, was: "2.11" }, table]);
});

test("how a part reads is learnt from the server, unless it was written on meanwhile", () => {
  const written = { title: "", parts: [own, t] };
  expect(learnt(written, [{ ...own, was: "So much." }]).parts[0]).toEqual({ ...own, was: "So much." });
  expect(learnt(written, [{ ...own, text: "Less.", was: "Less." }])).toBe(written);
  expect(learnt(written, [{ ...t, was: "9" }, own])).toBe(written);
});

test("of two versions nothing that was kept or written is lost", () => {
  const kept = { title: "Title", parts: [t, own] };
  const mine = { title: "Title", parts: [{ ...own, text: "So little." }, t] };
  const theirs = { title: "Theirs", parts: [t, own, table] };
  const both = over(mine, kept, theirs);
  expect(both.title).toBe("Theirs");
  expect(both.parts).toEqual([{ ...own, text: "So little." }, t, table]);
  // Taken away there, and not written on here: it goes; written on here, it stays.
  expect(ids(over({ title: "Mine", parts: [t, own] }, kept, { title: "Title", parts: [t] }).parts)).toEqual(["t"]);
  expect(ids(over(mine, kept, { title: "Title", parts: [t] }).parts)).toEqual(["own", "t"]);
  // Taken away here: it does not come back.
  expect(ids(over({ title: "Mine", parts: [t] }, kept, theirs).parts)).toEqual(["t", "table"]);
});

test("two versions are alike whatever was noted of how they read", () => {
  expect(alike({ title: "", parts: [t] }, { title: "", parts: [{ ...t, was: "1" }] })).toBe(true);
  expect(alike({ title: "", parts: [t] }, { title: "x", parts: [t] })).toBe(false);
  expect(alike({ title: "", parts: [t, own] }, { title: "", parts: [own, t] })).toBe(false);
  expect(alike({ title: "", parts: [own] }, { title: "", parts: [{ ...own, text: "" }] })).toBe(false);
});

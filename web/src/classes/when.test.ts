import { expect, test } from "vitest";
import { ago, dueIn, fromField, opensWords, toField } from "./when";

const now = new Date("2026-12-01T12:00:00Z").getTime();

test("a time goes into its field and comes out the same, to the minute", () => {
  const time = new Date(2026, 11, 1, 9, 5).toISOString();
  expect(toField(time)).toBe("2026-12-01T09:05");
  expect(fromField(toField(time))).toBe(time);
  expect(toField(undefined)).toBe("");
  expect(fromField("")).toBeUndefined();
  expect(fromField("no time")).toBeUndefined();
});

test("what is due says whether it was", () => {
  expect(dueIn("2026-12-01T11:59:00Z", now)).toMatch(/^was due /);
  expect(dueIn("2026-12-01T12:01:00Z", now)).toMatch(/^due /);
  expect(opensWords("2026-12-01T13:00:00Z", now)).toMatch(/^opens /);
  expect(opensWords("2026-12-01T11:00:00Z", now)).toBe("");
  expect(opensWords(null, now)).toBe("");
});

test.each([
  ["2026-12-01T11:59:50Z", "just now"],
  ["2026-12-01T11:48:00Z", "12 min ago"],
  ["2026-12-01T09:00:00Z", "3 h ago"],
  ["2026-12-01T12:00:05Z", "just now"], // the clocks of two machines
])("%s was %s", (time, words) => expect(ago(time, now)).toBe(words));

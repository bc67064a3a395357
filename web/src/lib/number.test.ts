import { expect, test } from "vitest";
import { readNumber, writeNumber } from "./number";

test.each([
  ["12.5", 12.5],
  [" −0,8 ", -0.8],
  ["-3", -3],
  ["1e3", 1000],
])("%s is read as a number", (text, number) => expect(readNumber(text)).toBe(number));

test.each(["", "  ", "abc", "1.2.3", "1 min"])("“%s” is no number", (text) => expect(readNumber(text)).toBeNaN());

test("what is written can be read", () => {
  for (const x of [0, -0.25, 1e-7, 41]) expect(readNumber(writeNumber(x))).toBe(x);
});

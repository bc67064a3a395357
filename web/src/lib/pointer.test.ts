import { expect, test } from "vitest";
import { pointerTo } from "./pointer";

test.each([
  [["options", "references", "ferry"], "/options/references/ferry"],
  [["a/b", "c~d"], "/a~1b/c~0d"],
  [["~1"], "/~01"], // the tilde first, or a slash would come out
  [[], ""],
])("%s as a pointer", (steps, want) => {
  expect(pointerTo(...steps)).toBe(want);
});

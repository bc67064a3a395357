import { expect, test } from "vitest";
import { counted, lowerFirst, mistakeSentence, upperFirst, whole } from "./words";

test.each([
  [0, "0 rows"],
  [1, "1 row"],
  [9999, "9999 rows"],
  [10_000, "10\u2009000 rows"],
  [1_234_567, "1\u2009234\u2009567 rows"],
])("counted(%d)", (n, want) => {
  expect(counted(n, "row")).toBe(want);
});

test("letters", () => {
  expect(upperFirst("there is")).toBe("There is");
  expect(lowerFirst("Remove it")).toBe("remove it");
  expect(upperFirst("")).toBe("");
  expect(whole(10_000)).toBe("10\u2009000");
});

test("a mistake is one sentence, with one mark at its end", () => {
  expect(mistakeSentence({ says: "the title is too long" })).toBe("The title is too long.");
  expect(mistakeSentence({ says: "there is no “x”", instead: "did you mean “y”?" })).toBe(
    "There is no “x”: did you mean “y”?",
  );
  expect(mistakeSentence({ says: "The database is away.", instead: "" })).toBe("The database is away.");
});

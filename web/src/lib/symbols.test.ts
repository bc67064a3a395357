import { expect, test } from "vitest";
import { symbolParts } from "./symbols";

const shown = (text: string) =>
  symbolParts(text)
    .map((part) => (part.variable ? `<${part.words}${part.index ? `,${part.index}` : ""}>` : part.words))
    .join("");

test.each([
  ["μ_M − μ_Q = 0", "<μ,M> − <μ,Q> = 0"],
  ["t = −2.064", "<t> = −2.064"],
  ["H₀", "H₀"],
  ["a_b_c", "a_b_c"],
  ["5\u00a0m", "5\u00a0m"], // metres, no variable
  ["x_", "x_"],
  ["", ""],
])("%s is read as %s", (text, parts) => {
  expect(shown(text)).toBe(parts);
});

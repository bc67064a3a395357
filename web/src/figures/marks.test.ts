import { expect, test } from "vitest";
import { labelRoom, shortened } from "./marks";

test("a long name is cut, and of a difference both names are", () => {
  expect(shortened("Mole")).toBe("Mole");
  expect(shortened("Saltgate upper stairs")).toBe("Saltgate upper stai…");
  expect(shortened("Mole − Quarry")).toBe("Mole − Quarry");
  expect(shortened("Saltgate upper stairs − Old Lantern")).toBe("Saltgate upp… − Old Lantern");
});

test("the longest name decides how much room the names get", () => {
  expect(labelRoom(["a", undefined])).toBeLessThan(labelRoom(["a", "Saltgate"]));
  expect(labelRoom(["x".repeat(20)])).toBe(labelRoom(["x".repeat(90)]));
});

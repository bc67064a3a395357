import { expect, test } from "vitest";
import type { Column } from "../api/types";
import { nextOrder } from "./TableView";

const clicks = (column: Partial<Column>, times: number) => {
  let order: ReturnType<typeof nextOrder>;
  const seen = [];
  for (let i = 0; i < times; i++) {
    order = nextOrder(column as Column, order);
    seen.push(order && `${order.signed ? "±" : ""}${order.descending ? "↓" : "↑"}`);
  }
  return seen;
};

test("a number goes from the largest, from the smallest, and as it was", () => {
  expect(clicks({ id: "leverage", numeric: true }, 4)).toEqual(["↓", "↑", undefined, "↓"]);
});

test("a name begins with the first", () => {
  expect(clicks({ id: "group", numeric: false }, 3)).toEqual(["↑", "↓", undefined]);
});

test("a residual goes by its size, and then by its sign", () => {
  expect(clicks({ id: "residual", numeric: true, bar: true }, 5)).toEqual(["↓", "↑", "±↓", "±↑", undefined]);
});

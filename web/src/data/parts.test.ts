import { afterEach, expect, test, vi } from "vitest";
import { withAllCells } from "./parts";

afterEach(() => vi.unstubAllGlobals());

/** answering lets fetch give the parts one after the other, and returns the addresses that were asked. */
function answering(parts: object[]): string[] {
  const asked: string[] = [];
  vi.stubGlobal("fetch", async (path: string) => {
    asked.push(path);
    return new Response(JSON.stringify(parts.shift()));
  });
  return asked;
}

test("cells that came whole are asked for no more", async () => {
  const asked = answering([]);
  await withAllCells({ path: "/api/data-sets/log", version: 4, next: null }, [{ column: 1, cells: ["a"] }]);
  expect(asked).toEqual([]);
});

test("parts are added where they belong, a row in pieces too", async () => {
  const asked = answering([
    { version: 4, columns: [{ column: 1, cells: ["b"] }], next: { row: 1, column: 2 } },
    { version: 4, columns: [{ column: 2, cells: ["y"] }], next: { row: 2, column: 1 } },
    {
      version: 4,
      columns: [
        { column: 1, cells: ["c", "d"] },
        { column: 2, cells: ["z", ""] },
      ],
      next: null,
    },
  ]);
  const columns = [
    { column: 1, cells: ["a"] },
    { column: 2, cells: ["x"] },
  ];
  await withAllCells({ path: "/api/data-sets/log", version: 4, next: { row: 1, column: 1 } }, columns, [1, 2]);
  expect(columns.map((column) => column.cells)).toEqual([
    ["a", "b", "c", "d"],
    ["x", "y", "z", ""],
  ]);
  expect(asked[0]).toBe("/api/data-sets/log/cells?row=1&column=1&version=4&key=1&key=2");
  expect(asked).toHaveLength(3);
});

test("a data set that is changed meanwhile is a conflict", async () => {
  vi.stubGlobal("fetch", async () => new Response(JSON.stringify({ status: 409, detail: "changed" }), { status: 409 }));
  const begun = { path: "/api/data-sets/log", version: 4, next: { row: 1, column: 1 } };
  await expect(withAllCells(begun, [])).rejects.toMatchObject({ status: 409 });
});

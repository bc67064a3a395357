import { expect, test } from "vitest";
import type { Draft } from "../api/types";
import type { SheetView } from "../data/context";
import { blocksOf, newColumn, type Sheet } from "../data/sheet";
import { levelsOf, levelsOfVariable } from "./levels";
import { namesOf } from "./roles";

function sheetWith(form: string, ...columns: [name: string, cells: string[], more?: object][]): Sheet {
  const empty = { form, rows: 0, columns: [] } as unknown as Sheet;
  return {
    ...empty,
    columns: columns.map(([name, cells, more]) => newColumn(empty, { name, blocks: blocksOf(cells), ...more })),
  };
}

const viewOf = (sheet: Sheet): SheetView =>
  ({ sheet, derived: new Map(), profiles: new Map() }) as unknown as SheetView;
const draftOf = (fields: object) => ({ entry: "cases", roles: {}, summary: [], ...fields }) as unknown as Draft;

test("a role has one variable or several", () => {
  const draft = draftOf({ roles: { response: "minutes", predictors: ["wind", "vehicles"] } });
  expect(namesOf(draft, "response")).toEqual(["minutes"]);
  expect(namesOf(draft, "predictors")).toEqual(["wind", "vehicles"]);
  expect(namesOf(draft, "group")).toEqual([]);
});

test("levels come in their order: as listed, or as they first appear", () => {
  const view = viewOf(
    sheetWith(
      "cases",
      ["berth", ["Quarry", " Mole", "", "Quarry"]],
      ["day", ["Tue", "Mon"], { levels: ["Mon", "Tue", "Wed"], level_names: { Mon: "Monday" } }],
    ),
  );
  expect(levelsOfVariable(view, "berth")).toEqual({ codes: ["Quarry", "Mole"], names: {} });
  expect(levelsOfVariable(view, "day")).toEqual({ codes: ["Mon", "Tue", "Wed"], names: { Mon: "Monday" } });
  expect(levelsOfVariable(view, "pier").codes).toEqual([]);
  expect(levelsOf(draftOf({ roles: { group: "berth" } }), view, "group").codes).toEqual(["Quarry", "Mole"]);
});

test("of a summary the labels are levels, of one column a group the columns", () => {
  const summary = draftOf({ entry: "summary", summary: [{ label: " Mole " }, { label: "" }, { label: "Quarry" }] });
  expect(levelsOf(summary, viewOf(sheetWith("cases")), "group").codes).toEqual(["Mole", "Quarry"]);
  const groups = viewOf(sheetWith("groups", ["Pier 1", ["3"]], ["Pier 2", ["4"]]));
  expect(levelsOf(draftOf({}), groups, "group").codes).toEqual(["Pier 1", "Pier 2"]);
  expect(levelsOf(draftOf({}), viewOf(sheetWith("counts", ["reason", ["work"]])), "row").codes).toEqual([]);
});

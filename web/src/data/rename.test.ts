import { describe, expect, test } from "vitest";
import type { Draft } from "../api/types";
import { followNames, renameIn, withName } from "./rename";
import { sheetOf } from "./sheet";

const column = (key: number, name: string, fields = {}) => ({
  key,
  name,
  label: "",
  unit: "",
  kind: "" as const,
  cells: ["1"],
  ...fields,
});

const crossings = sheetOf({
  name: "crossings",
  about: "",
  form: "cases",
  response: {},
  group: {},
  columns: [
    column(1, "fuel outbound"),
    column(2, "fuel"),
    column(3, "minutes"),
    column(4, "difference", { formula: "fuel outbound − fuel" }),
    column(5, "pace", { recode: { from: "minutes", classes: [{ below: 12, name: "quick" }, { name: "slow" }] } }),
  ],
});

describe("renameIn", () => {
  const names = ["fuel", "fuel outbound", "minutes"];
  const renamed = new Map([
    ["fuel", "oil"],
    ["fuel outbound", "out"],
    ["minutes", "late"],
  ]);
  test.each([
    ["fuel outbound − fuel", "out − oil"],
    ['minutes > 9 ? "minutes" : “fuel”', 'late > 9 ? "minutes" : “fuel”'],
    ["mean(fuel) + refuel + fuel2", "mean(oil) + refuel + fuel2"],
    ["filter == 'fuel\" outbound' or fuel>1", "filter == 'fuel\" outbound' or oil>1"],
    ["fuel (3)", "fuel (3)"],
    ["", ""],
  ])("%s", (formula, want) => {
    expect(renameIn(formula, names, renamed)).toBe(want);
  });
});

describe("withName", () => {
  test("derived columns follow, letter by letter", () => {
    let sheet = crossings;
    for (const name of ["o", "oi", "oil"]) sheet = withName(sheet, 1, name, crossings);
    expect(sheet.columns.map((each) => each.name)).toEqual(["fuel outbound", "oil", "minutes", "difference", "pace"]);
    expect(sheet.columns[3]?.formula).toBe("fuel outbound − oil");
  });
  test("what refers to a name that is gone for a moment is kept", () => {
    let sheet = withName(crossings, 2, "", crossings);
    expect(sheet.columns[4]?.recode?.from).toBe("minutes");
    sheet = withName(sheet, 2, "time", crossings);
    expect(sheet.columns[4]?.recode?.from).toBe("time");
  });
  test("with two columns of one name nobody can tell which is meant", () => {
    const twice = withName(crossings, 2, "fuel", crossings);
    expect(withName(twice, 2, "x", twice).columns[3]?.formula).toBe("fuel outbound − fuel");
  });
});

describe("followNames", () => {
  const draft = {
    roles: { response: "minutes", predictors: ["fuel", "fuel outbound"] },
    pictures: [{ variables: ["minutes", "fuel"] }],
    leave_out_where: [{ where: "minutes > 60", reason: "storm" }],
  } as unknown as Draft;
  test("roles, pictures and conditions follow", () => {
    const followed = followNames(draft, crossings, withName(crossings, 2, "time", crossings));
    expect(followed.roles).toEqual({ response: "time", predictors: ["fuel", "fuel outbound"] });
    expect(followed.pictures?.[0]?.variables).toEqual(["time", "fuel"]);
    expect(followed.leave_out_where?.[0]?.where).toBe("time > 60");
  });
  test("without a new name it is the same draft", () => {
    expect(followNames(draft, crossings, { ...crossings, name: "log" })).toBe(draft);
  });
});

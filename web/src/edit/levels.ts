import type { Draft } from "../api/types";
import type { SheetView } from "../data/context";
import { cellsOf, isDerived } from "../data/sheet";
import { namesOf } from "./roles";

/** Levels are the codes of a category in their order, with the names of those that have one. */
export interface Levels {
  codes: string[];
  names: Record<string, string>;
}

type View = Pick<SheetView, "sheet" | "derived" | "profiles">;

const only = (codes: string[]): Levels => ({ codes: codes.filter((code) => code !== ""), names: {} });

/** levelsOf returns the levels of the variable that plays a role; with one column a group, the names of the columns. */
export function levelsOf(draft: Draft, view: View, role: string): Levels {
  if (draft.entry === "summary") return only(draft.summary.map((group) => group.label.trim()));
  if (view.sheet.form === "groups") return only(view.sheet.columns.map((column) => column.name.trim()));
  if (view.sheet.form === "counts") return only([]);
  return levelsOfVariable(view, namesOf(draft, role)[0]);
}

/** levelsOfVariable returns the levels of a variable, none where there is no such one. */
export function levelsOfVariable({ sheet, derived, profiles }: View, name: string | undefined): Levels {
  const column = sheet.columns.find((each) => each.name.trim() === name);
  if (!column) return only([]);
  const names = column.level_names ?? {};
  const known = profiles.get(column.key)?.levels;
  if (isDerived(column) && known) return { codes: known.map((level) => level.code), names }; // in the order that they follow in
  const cells = derived.get(column.key) ?? cellsOf(column);
  return { codes: column.levels ?? only([...new Set(cells.map((cell) => cell.trim()))]).codes, names };
}

import type { Draft } from "../api/types";
import type { SheetView } from "../data/context";
import { cellsOf, isDerived } from "../data/sheet";
import { namesOf } from "./draft";

/** Levels are the codes of a category in their order, with the names of those that have one. */
interface Levels {
  codes: string[];
  names: Record<string, string>;
}

/** levelsOf returns the levels of the variable that plays a role; with one column a group, the names of the columns. */
export function levelsOf(
  draft: Draft,
  { sheet, derived, profiles }: Pick<SheetView, "sheet" | "derived" | "profiles">,
  role: string,
): Levels {
  const only = (codes: string[]): Levels => ({ codes: codes.filter((code) => code !== ""), names: {} });
  if (draft.entry === "summary") return only(draft.summary.map((group) => group.label.trim()));
  if (sheet.form === "groups") return only(sheet.columns.map((column) => column.name.trim()));
  if (sheet.form === "counts") return only([]);
  const column = sheet.columns.find((each) => each.name.trim() === namesOf(draft, role)[0]);
  if (!column) return only([]);
  const names = column.level_names ?? {};
  const known = profiles.get(column.key)?.levels;
  if (isDerived(column) && known) return { codes: known.map((level) => level.code), names }; // in the order that they follow in
  const cells = derived.get(column.key) ?? cellsOf(column);
  return { codes: column.levels ?? only([...new Set(cells.map((cell) => cell.trim()))]).codes, names };
}

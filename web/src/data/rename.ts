import type { Draft } from "../api/types";
import type { Sheet, SheetColumn } from "./sheet";

const closing: Record<string, string> = { '"': '"', "'": "'", "`": "`", "“": "”" };
const wordPart = /[\p{L}\p{Nd}_]/u;

/** nameAt returns the longest of the names with which the text begins as a whole word; one before a bracket is a function's. */
function nameAt(text: string, names: string[]): string | undefined {
  return names.find((name) => {
    const rest = text.slice(name.length);
    if (!text.startsWith(name) || rest.trimStart().startsWith("(")) return false;
    return !(rest !== "" && wordPart.test(rest[0] ?? "") && wordPart.test(name.at(-1) ?? ""));
  });
}

/** renameIn returns a formula with columns called by other names; text in quotation marks is left alone. */
export function renameIn(formula: string, names: string[], renamed: ReadonlyMap<string, string>): string {
  const longest = names.filter(Boolean).sort((a, b) => b.length - a.length);
  let out = "";
  let quote = "";
  for (let i = 0; i < formula.length; ) {
    const character = formula[i] as string;
    const begins = i === 0 || !wordPart.test(formula[i - 1] ?? "");
    const name = quote === "" && begins ? nameAt(formula.slice(i), longest) : undefined;
    if (name !== undefined) {
      out += renamed.get(name) || name;
      i += name.length;
      continue;
    }
    if (quote !== "") quote = character === quote ? "" : quote;
    else quote = closing[character] ?? "";
    out += character;
    i++;
  }
  return out;
}

/** renamedOf returns what columns were called in one sheet and are called in another, where it is plain which is meant. */
function renamedOf(before: Sheet, after: Sheet): Map<string, string> {
  const names = before.columns.map((column) => column.name.trim());
  const renamed = new Map<string, string>();
  for (const column of after.columns) {
    const was = before.columns.find((each) => each.key === column.key)?.name.trim();
    if (was === undefined || was === column.name.trim()) continue;
    if (names.filter((name) => name === was).length === 1) renamed.set(was, column.name.trim());
  }
  return renamed;
}

/** withName gives a column another name, and lets the columns that are derived from it follow. base is the sheet before the first letter was typed. */
export function withName(sheet: Sheet, at: number, name: string, base: Sheet): Sheet {
  const next = { ...sheet, columns: sheet.columns.map((column, i) => (i === at ? { ...column, name } : column)) };
  const renamed = renamedOf(base, next);
  const names = base.columns.map((column) => column.name.trim());
  const follow = (column: SheetColumn): SheetColumn => {
    const was = base.columns.find((each) => each.key === column.key);
    if (was?.formula) return { ...column, formula: renameIn(was.formula, names, renamed) };
    if (was?.recode)
      return { ...column, recode: { ...was.recode, from: renamed.get(was.recode.from) || was.recode.from } };
    return column;
  };
  return { ...next, columns: next.columns.map((column, i) => (i === at ? column : follow(column))) };
}

/** followNames lets a draft follow columns that have other names now. */
export function followNames(draft: Draft, before: Sheet, after: Sheet): Draft {
  if (before.columns === after.columns) return draft;
  const renamed = renamedOf(before, after);
  if (renamed.size === 0) return draft;
  const names = before.columns.map((column) => column.name.trim());
  const follow = (name: string) => renamed.get(name) ?? name;
  return {
    ...draft,
    roles: Object.fromEntries(
      Object.entries(draft.roles).map(([role, of]) => [role, Array.isArray(of) ? of.map(follow) : follow(of)]),
    ),
    pictures: draft.pictures?.map((picture) => ({ ...picture, variables: [picture.variables].flat().map(follow) })),
    leave_out_where: draft.leave_out_where?.map((each) => ({ ...each, where: renameIn(each.where, names, renamed) })),
  };
}

import type { Table } from "../api/types";
import { copyRich, escapeHTML, escapeMarkdown } from "./copy";

/** Grid is a table as other programs take it: a heading for each column, and rows of as many cells. */
export interface Grid {
  title?: string;
  head: string[];
  /** Which columns hold numbers, and go to the right. */
  numeric: boolean[];
  rows: string[][];
}

/** Digits is whether numbers are copied as they are shown, or as programs read them, with all digits. */
export type Digits = "shown" | "all";

/** gridOf returns the pages of a table that are shown, without the columns that only formulas use. */
export function gridOf(pages: readonly Table[], digits: Digits): Grid {
  const table = pages[0];
  const columns = (table?.columns ?? [])
    .map((column, at) => ({ ...column, at }))
    .filter((column) => column.hidden !== true);
  return {
    title: table?.title,
    head: columns.map((column) => (column.unit ? `${column.label} (${column.unit})` : column.label)),
    numeric: columns.map((column) => column.numeric),
    rows: pages.flatMap((page) =>
      page.rows.map((row, i) =>
        columns.map((column) => (digits === "all" ? String(row[column.id] ?? "") : (page.shown[i]?.[column.at] ?? ""))),
      ),
    ),
  };
}

/** gridText writes a grid with tabs between the cells, as spreadsheets take it. */
export const gridText = (grid: Grid): string => [grid.head, ...grid.rows].map((cells) => cells.join("\t")).join("\n");

/** gridHTML writes a grid as the table that word processors take. */
export function gridHTML(grid: Grid): string {
  const row = (tag: "th" | "td", cells: string[]) =>
    `<tr>${cells
      .map((cell, i) => `<${tag}${grid.numeric[i] ? ' align="right"' : ""}>${escapeHTML(cell)}</${tag}>`)
      .join("")}</tr>`;
  const caption = grid.title ? `<caption>${escapeHTML(grid.title)}</caption>` : "";
  const body = grid.rows.map((cells) => row("td", cells)).join("");
  return `<table>${caption}<thead>${row("th", grid.head)}</thead><tbody>${body}</tbody></table>`;
}

/** gridMarkdown writes a grid as a table of markdown. */
export function gridMarkdown(grid: Grid): string {
  const line = (cells: string[]) => `| ${cells.join(" | ")} |`;
  const row = (cells: string[]) => line(cells.map((cell) => escapeMarkdown(cell).replaceAll("\n", " ")));
  return [row(grid.head), line(grid.numeric.map((numeric) => (numeric ? "---:" : "---"))), ...grid.rows.map(row)].join(
    "\n",
  );
}

/** copyGrid copies a grid as rich table and as text with tabs. */
export const copyGrid = (grid: Grid): Promise<void> => copyRich(gridText(grid), gridHTML(grid));

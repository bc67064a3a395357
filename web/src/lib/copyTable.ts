import type { Table } from "../api/types";
import { copyRich, escapeHTML, escapeMarkdown } from "./copy";

/** CopiedTable is a table as other programs take it: a heading for each column, and rows of as many cells. */
export interface CopiedTable {
  title?: string;
  head: string[];
  /** Which columns hold numbers, and go to the right. */
  numeric: boolean[];
  rows: string[][];
}

/** Digits is whether numbers are copied as they are shown, or as programs read them, with all digits. */
export type Digits = "shown" | "all";

/** copiedOf returns the pages of a table that are shown, without the columns that only formulas use. */
export function copiedOf(pages: readonly Table[], digits: Digits): CopiedTable {
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

/** tableText writes a table with tabs between the cells, as spreadsheets take it; a cell that holds one keeps to its place. */
export const tableText = (table: CopiedTable): string =>
  [table.head, ...table.rows].map((cells) => cells.map((cell) => cell.replace(/[\t\n\r]/g, " ")).join("\t")).join("\n");

/** tableHTML writes a table as the table that word processors take. */
export function tableHTML(table: CopiedTable): string {
  const row = (tag: "th" | "td", cells: string[]) =>
    `<tr>${cells
      .map((cell, i) => `<${tag}${table.numeric[i] ? ' align="right"' : ""}>${escapeHTML(cell)}</${tag}>`)
      .join("")}</tr>`;
  const caption = table.title ? `<caption>${escapeHTML(table.title)}</caption>` : "";
  const body = table.rows.map((cells) => row("td", cells)).join("");
  return `<table>${caption}<thead>${row("th", table.head)}</thead><tbody>${body}</tbody></table>`;
}

/** tableMarkdown writes a table as a table of markdown. */
export function tableMarkdown(table: CopiedTable): string {
  const line = (cells: string[]) => `| ${cells.join(" | ")} |`;
  const row = (cells: string[]) => line(cells.map((cell) => escapeMarkdown(cell).replaceAll("\n", " ")));
  return [
    row(table.head),
    line(table.numeric.map((numeric) => (numeric ? "---:" : "---"))),
    ...table.rows.map(row),
  ].join("\n");
}

/** copyTable copies a table as rich table and as text with tabs. */
export const copyTable = (table: CopiedTable): Promise<void> => copyRich(tableText(table), tableHTML(table));

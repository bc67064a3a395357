import type { Piece, Quantity, ReportLine } from "../api/types";
import { escapeHTML, escapeMarkdown, words } from "./copy";
import { type CopiedTable, tableHTML, tableMarkdown, tableText } from "./copyTable";
import { symbolParts } from "./symbols";

/** ReportStyle is how a result is put into a paper. */
export type ReportStyle = "journal" | "sentence" | "row" | "list";

/** Copied is a text in the three ways that other programs take it. */
export interface Copied {
  plain: string;
  markdown: string;
  html: string;
}

type Quantities = ReadonlyMap<string, Quantity>;

/** reportAs writes a report in a style: as text, as markdown, and as rich text with italics. */
export function reportAs(style: ReportStyle, block: ReportLine, quantities: Quantities): Copied {
  switch (style) {
    case "journal":
      return run(block.text, quantities);
    case "sentence":
      return run(block.sentence ?? block.text, quantities);
    case "row":
      return row(numbersOf(block, quantities));
    case "list":
      return list(numbersOf(block, quantities));
  }
}

/** Named is a number of a report with what it is called. */
export interface Named {
  ref: string;
  label: string;
  shown: string;
}

/** numbersOf returns the numbers of a report in their order. */
export function numbersOf(block: ReportLine, quantities: Quantities): Named[] {
  return (block.numbers ?? []).flatMap((ref) => {
    const quantity = quantities.get(ref);
    return quantity ? [{ ref, label: quantity.label, shown: words({ ref } as Piece, quantities) }] : [];
  });
}

/** run returns a sentence with its italics and indices. */
export function run(text: Piece[], quantities: Quantities): Copied {
  const each = text.map((piece) => ({ style: piece.style, words: words(piece, quantities) }));
  return {
    plain: each.map((piece) => piece.words).join(""),
    markdown: each.map((piece) => `${stars(piece.style)}${escapeMarkdown(piece.words)}${stars(piece.style)}`).join(""),
    html: `<p>${each.map((piece) => tagged(piece.style, piece.words)).join("")}</p>`,
  };
}

const stars = (style: Piece["style"]) =>
  style === "strong" ? "**" : style === "emphasis" || style === "symbol" ? "*" : "";

function tagged(style: Piece["style"], text: string): string {
  switch (style) {
    case "strong":
      return `<b>${escapeHTML(text)}</b>`;
    case "emphasis":
      return `<i>${escapeHTML(text)}</i>`;
    case "symbol":
      return symbolParts(text)
        .map((part) => {
          const index = part.index ? `<sub>${escapeHTML(part.index)}</sub>` : "";
          return part.variable ? `<i>${escapeHTML(part.words)}</i>${index}` : escapeHTML(part.words);
        })
        .join("");
    default:
      return escapeHTML(text);
  }
}

function row(numbers: Named[]): Copied {
  const copied: CopiedTable = {
    head: numbers.map((each) => each.label),
    numeric: numbers.map(() => true),
    rows: [numbers.map((each) => each.shown)],
  };
  return { plain: tableText(copied), markdown: tableMarkdown(copied), html: tableHTML(copied) };
}

function list(numbers: Named[]): Copied {
  return {
    plain: numbers.map((each) => `${each.label}: ${each.shown}`).join("\n"),
    markdown: numbers.map((each) => `- ${escapeMarkdown(each.label)}: ${escapeMarkdown(each.shown)}`).join("\n"),
    html: `<ul>${numbers.map((each) => `<li>${escapeHTML(each.label)}: ${escapeHTML(each.shown)}</li>`).join("")}</ul>`,
  };
}

import type { Piece, Quantity, ReportLine } from "../api/types";
import { escapeHTML, words } from "./copy";

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

function run(text: Piece[], quantities: Quantities): Copied {
  const each = text.map((piece) => ({ style: piece.style, words: words(piece, quantities) }));
  return {
    plain: each.map((piece) => piece.words).join(""),
    markdown: each.map((piece) => `${stars(piece.style)}${escapeMarkdown(piece.words)}${stars(piece.style)}`).join(""),
    html: `<p>${each.map((piece) => tagged(piece.style, escapeHTML(piece.words))).join("")}</p>`,
  };
}

const stars = (style: Piece["style"]) =>
  style === "strong" ? "**" : style === "emphasis" || style === "symbol" ? "*" : "";

function tagged(style: Piece["style"], html: string): string {
  if (style === "strong") return `<b>${html}</b>`;
  return style === "emphasis" || style === "symbol" ? `<i>${html}</i>` : html;
}

const escapeMarkdown = (text: string) => text.replace(/[\\`*_[\]<>|]/g, "\\$&");

function row(numbers: Named[]): Copied {
  const cells = (of: (each: Named) => string) => numbers.map(of);
  const line = (each: string[]) => `| ${each.join(" | ")} |`;
  const tr = (tag: string, each: string[]) => `<tr>${each.map((x) => `<${tag}>${x}</${tag}>`).join("")}</tr>`;
  return {
    plain: [cells((each) => each.label), cells((each) => each.shown)].map((each) => each.join("\t")).join("\n"),
    markdown: [
      line(cells((each) => escapeMarkdown(each.label))),
      line(cells(() => "---:")),
      line(cells((each) => escapeMarkdown(each.shown))),
    ].join("\n"),
    html: `<table>${tr(
      "th",
      cells((each) => escapeHTML(each.label)),
    )}${tr(
      "td",
      cells((each) => escapeHTML(each.shown)),
    )}</table>`,
  };
}

function list(numbers: Named[]): Copied {
  return {
    plain: numbers.map((each) => `${each.label}: ${each.shown}`).join("\n"),
    markdown: numbers.map((each) => `- ${escapeMarkdown(each.label)}: ${escapeMarkdown(each.shown)}`).join("\n"),
    html: `<ul>${numbers.map((each) => `<li>${escapeHTML(each.label)}: ${escapeHTML(each.shown)}</li>`).join("")}</ul>`,
  };
}

import type { Quantity } from "../api/types";
import { piecesOf } from "./numbersIn";

/** A number of the question that is one of the data, and would be another one with other numbers. */
export interface Quotable {
  /** As it stands in the question. */
  text: string;
  id: string;
  label: string;
}

const plain = (text: string): string => text.replace("−", "-").replace(",", ".").replaceAll("\u202f", "");

/** quotablesIn returns the numbers of a question that are quantities of the data, each once. */
export function quotablesIn(question: string, quantities: readonly Quantity[]): Quotable[] {
  const found: Quotable[] = [];
  for (const piece of piecesOf(question.replace(/@\{[^{}]*\}/g, " "))) {
    if (piece.number === undefined || found.some((each) => each.text === piece.text)) continue;
    const is = quantities.find(
      (quantity) =>
        quantity.id !== "alpha" && quantity.display !== "" && plain(quantity.display) === plain(piece.number ?? ""),
    );
    if (is) found.push({ text: piece.text, id: is.id, label: is.label });
  }
  return found;
}

/** quoted returns the question with every such number written as a quotation. */
export function quoted(question: string, number: Quotable): string {
  return piecesOf(question)
    .map((piece) => (piece.number !== undefined && piece.text === number.text ? `@{${number.id}}` : piece.text))
    .join("");
}

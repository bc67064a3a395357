import type { Description, Draft } from "../api/types";
import { readNumber } from "../lib/number";
import { summaryOf } from "./summary";

/** A piece of a question: words, or a number as it stands there. */
export interface TextPiece {
  text: string;
  /** The number without what is not typed into a field: 12.38 of “12,38 min”, 5 % of “5 %”. */
  number?: string;
}

// A number stands apart from letters, so that neither x1 nor H0 has one; signs, decimals with point or comma, and per cent.
const number = /(?<![\p{L}\d_.,^])[−-]?\d+(?:[ \u202f\u00a0]\d{3})*(?:[.,]\d+)?(?![\p{L}_]|[.,]?\d)(?:\s?%)?/gu;

/** piecesOf parts a question into words and numbers. */
export function piecesOf(question: string): TextPiece[] {
  const pieces: TextPiece[] = [];
  let at = 0;
  for (const match of question.matchAll(number)) {
    if (match.index > at) pieces.push({ text: question.slice(at, match.index) });
    pieces.push({ text: match[0], number: match[0].replace(/(\d)[ \u202f\u00a0](?=\d)/g, "$1").replace("−", "-") });
    at = match.index + match[0].length;
  }
  if (at < question.length) pieces.push({ text: question.slice(at) });
  return pieces;
}

/** A field into which a number of the question can go. */
export interface Target {
  id: string;
  label: string;
  /** What stands there now. */
  value: string;
  put: (draft: Draft, number: string) => Draft;
}

const withPercent = (text: string): number =>
  text.endsWith("%") ? readNumber(text.slice(0, -1)) / 100 : readNumber(text);

/** targetsOf returns the fields of a draft that take a number, for the procedure that is chosen. */
export function targetsOf(draft: Draft, { options, takes }: Description): Target[] {
  const targets: Target[] = [
    { id: "alpha", label: "α", value: draft.alpha, put: (d, text) => ({ ...d, alpha: text }) },
    {
      id: "confidence",
      label: "confidence of intervals",
      value: draft.confidence === undefined ? "" : String(draft.confidence),
      put: (d, text) => ({ ...d, confidence: withPercent(text) }),
    },
  ];
  for (const option of options.filter(({ type }) => type === "number")) {
    targets.push({
      id: option.id,
      label: option.label,
      value: draft.options[option.id] === undefined ? "" : String(draft.options[option.id]),
      put: (d, text) => ({ ...d, options: { ...d.options, [option.id]: withPercent(text) } }),
    });
  }
  if (!takes.includes("summary")) return targets;
  const groups = summaryOf(draft);
  groups.forEach((group, row) => {
    const name = group.label.trim() || (groups.length > 1 ? `group ${row + 1}` : "the sample");
    for (const [field, label] of [
      ["n", "n"],
      ["mean", "mean"],
      ["sd", "sd"],
    ] as const) {
      targets.push({
        id: `${row}/${field}`,
        label: `${label} of ${name}`,
        value: draft.entry === "summary" ? group[field] : "",
        put: (d, text) => ({
          ...d,
          entry: "summary",
          summary: summaryOf(d).map((each, i) => (i === row ? { ...each, [field]: text } : each)),
        }),
      });
    }
  });
  return targets;
}

/** takenBy returns the fields that hold a number now; none is remembered, so what is marked is what stands there. */
export function takenBy(text: string, targets: readonly Target[]): Target[] {
  const meant = withPercent(text);
  return targets.filter(({ value }) => value !== "" && withPercent(value.trim()) === meant);
}

import { useId } from "react";
import { measured } from "../lib/number";
import { axisNumber } from "../lib/numerals";
import { preference } from "../lib/preferences";

/** The hatch of the rejection region; each figure has its own. */
export function useHatch(): { id: string; hatch: React.ReactNode } {
  const id = `hatch${useId().replaceAll(":", "")}`;
  return {
    id,
    hatch: (
      <defs>
        <pattern id={id} width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="5" stroke="var(--region)" strokeWidth="1.6" />
        </pattern>
      </defs>
    ),
  };
}

/** present returns the positions that exist. */
export function present(xs: (number | null)[] | undefined): number[] {
  return (xs ?? []).filter((x): x is number => x !== null);
}

/** tick writes a number of an axis as the text writes numbers. */
export const tick = (text: string): string => axisNumber(text, preference("mark"));

/** nameOfCase is what a case's dot says of itself: its number and its values. */
export const nameOfCase = (number: number, ...values: number[]): string =>
  `case ${number}: ${values.map((value) => tick(measured(value))).join(preference("mark") === "comma" ? "; " : ", ")}`;

/** tickRoom is the room that the longest of the numbers needs at the left of an axis that goes up. */
export const tickRoom = (numbers: string[]): number => 14 + 6.2 * Math.max(3, ...numbers.map((text) => text.length));

const longest = 20;
const between = " − ";

/** cut cuts a text to so many letters. */
const cut = (text: string, letters: number): string =>
  text.length > letters ? `${text.slice(0, letters - 1)}…` : text;

/**
 * shortened cuts a group's name that is too long to stand beside its row; of a difference
 * it cuts both names.
 */
export function shortened(label: string): string {
  const parts = label.split(between);
  if (label.length <= longest || parts.length === 1) return cut(label, longest);
  return parts.map((part) => cut(part, 13)).join(between);
}

/** labelRoom is the room that the longest of the names needs at the left of the rows. */
export function labelRoom(labels: (string | undefined)[]): number {
  return 30 + 7.1 * Math.max(5, ...labels.map((label) => shortened(label ?? "").length));
}

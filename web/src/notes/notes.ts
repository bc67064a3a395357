import type { Note, PlacedNote, Quantity } from "../api/types";

/** How many characters a note may have, and how many notes there may be. */
export const maxNote = 5000;
export const maxNotes = 200;

/**
 * withNote returns the notes with one more, another text in the place of one, or without it where the text is empty and
 * nothing is drawn.
 */
export function withNote(notes: readonly Note[], at: number | undefined, note: Note): Note[] {
  const text = note.text.trim();
  const next = { ...(at === undefined ? undefined : notes[at]), ...note, text };
  const says = text !== "" || next.drawing !== undefined;
  if (at === undefined) return says ? [...notes, next] : [...notes];
  if (!says) return notes.filter((_, i) => i !== at);
  return notes.map((each, i) => (i === at ? next : each));
}

/** rewritten is a note as it is written now: one at a number remembers how the number stands. */
export function rewritten(note: Note, quantities: ReadonlyMap<string, Pick<Quantity, "display">>): Note {
  const number = /^number\/(.*)$/.exec(note.at)?.[1];
  const was = number === undefined ? undefined : quantities.get(number)?.display;
  return was === undefined ? note : { ...note, was };
}

/** placedOf returns where a note stands, as far as the solution that is shown knows. */
export const placedOf = (placed: readonly PlacedNote[] | undefined, note: Note): PlacedNote | undefined =>
  placed?.find((each) => each.at === note.at && each.text === note.text);

/** isIn tells whether a note stands with a step: at it, or where the solution has placed it. */
export const isIn = (step: string, note: Note, placed: readonly PlacedNote[] | undefined): boolean =>
  note.at === `step/${step}` || placedOf(placed, note)?.step === step;

/** A piece of a note: words, or a formula that stood between dollar signs. */
export type NotePiece = { words: string } | { tex: string };

/** piecesOf parts a line of a note; a dollar sign that is alone is one. */
export function piecesOf(line: string): NotePiece[] {
  const parts = line.split("$");
  if (parts.length % 2 === 0) return [{ words: line }];
  return parts.flatMap((part, i): NotePiece[] =>
    i % 2 === 1 ? [{ tex: part }] : part === "" ? [] : [{ words: part }],
  );
}

import type { Note } from "../api/types";
import { useActions } from "../solution/actions";
import { useCurrent } from "../solution/current";
import { useSolution } from "../solution/solution";
import { maxNotes, rewritten, withNote } from "./notes";

/** useNotes are the person's notes, and how they are kept and taken away. */
export function useNotes() {
  const { change } = useActions();
  const current = useCurrent();
  const { quantities } = useSolution();
  const notes = (current("/notes") as Note[] | null) ?? [];
  const set = (next: Note[], says: string) =>
    change([{ pointer: "/notes", value: next.length > 0 ? next : null }], says);
  const keep = (at: number | undefined, note: Note) => {
    // One that was opened and left as it was still tells of the number it was written at.
    if (at !== undefined && notes[at]?.text === note.text) return;
    const next = withNote(notes, at, rewritten(note, quantities));
    if (JSON.stringify(next) !== JSON.stringify(notes))
      set(next, next.length < notes.length ? "a note taken away" : "a note");
  };
  /** Adds a note, and reports whether there was room for it. */
  const add = (note: Note): boolean => {
    if (notes.length >= maxNotes) return false;
    set([...notes, note], note.drawing ? "a drawing" : "a note");
    return true;
  };
  const remove = (at: number) =>
    set(
      notes.filter((_, i) => i !== at),
      "a note taken away",
    );
  return { notes, keep, add, remove };
}

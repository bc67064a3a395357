import type { Note } from "../api/types";
import { useActions } from "../solution/actions";
import { useCurrent } from "../solution/current";
import { useSolution } from "../solution/solution";
import { rewritten, withNote } from "./notes";

/** useNotes are the person's notes, and how one is kept. */
export function useNotes() {
  const { change } = useActions();
  const current = useCurrent();
  const { quantities } = useSolution();
  const notes = (current("/notes") as Note[] | null) ?? [];
  const keep = (at: number | undefined, note: Note) => {
    // One that was opened and left as it was still tells of the number it was written at.
    if (at !== undefined && notes[at]?.text === note.text) return;
    const next = withNote(notes, at, rewritten(note, quantities));
    if (JSON.stringify(next) !== JSON.stringify(notes))
      change(
        [{ pointer: "/notes", value: next.length > 0 ? next : null }],
        note.text.trim() === "" ? "a note taken away" : "a note",
      );
  };
  return { notes, keep };
}

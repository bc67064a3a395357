import { Pencil, Trash2 } from "lucide-react";
import { type ReactNode, useState } from "react";
import type { Note } from "../api/types";
import { Written } from "../blocks/Written";
import { DrawingView } from "../notes/DrawingView";
import { NoteEditor } from "../notes/NoteEditor";
import { isIn, maxNotes, placedOf } from "../notes/notes";
import { useNotes } from "../notes/useNotes";
import { useKeepsNotes, useSolution } from "../solution/solution";

/**
 * useStepNotes returns the notes that stand with a step: those in the margin, where there is room for them, and what stands
 * in the step, the way to write one among it. A drawing needs the width of the step, and so does what is being written.
 */
export function useStepNotes(step: string, withMargin: boolean): { margin: ReactNode; text: ReactNode } {
  const { solution } = useSolution();
  const keepsNotes = useKeepsNotes();
  const { notes, keep, remove } = useNotes();
  const [writing, setWriting] = useState<number | "new" | null>(null);
  const here = notes.map((note, i) => ({ note, i })).filter(({ note }) => isIn(step, note, solution.own_notes));
  const inMargin = ({ note, i }: (typeof here)[number]) => withMargin && !note.drawing && writing !== i;
  const view = ({ note, i }: (typeof here)[number]) => (
    <NoteView key={i} note={note} onEdit={() => setWriting(i)} onRemove={() => remove(i)} />
  );
  const editor = (note: Note, at: number | undefined) => (
    <NoteEditor
      key={at ?? "new"}
      note={note}
      onDone={(text) => {
        keep(at, { ...note, text });
        setWriting(null);
      }}
      onLeave={() => setWriting(null)}
    />
  );
  return {
    margin: here.filter(inMargin).map(view),
    text: (
      <>
        {here
          .filter((each) => !inMargin(each))
          .map((each) => (writing === each.i ? editor(each.note, each.i) : view(each)))}
        {writing === "new"
          ? editor({ at: `step/${step}`, text: "" }, undefined)
          : keepsNotes &&
            notes.length < maxNotes && (
              <button
                type="button"
                className="act screen-only w-fit text-[0.9rem] opacity-0 focus-visible:opacity-100 group-focus-within/step:opacity-100 group-hover/step:opacity-100 pointer-coarse:opacity-100"
                onClick={() => setWriting("new")}
              >
                Add a note
              </button>
            )}
      </>
    ),
  };
}

/** NumberNotes are the notes on a number, in its card, and the way to write one: it remembers how the number was. */
export function NumberNotes({ id }: { id: string }) {
  const keepsNotes = useKeepsNotes();
  const { notes, keep, remove } = useNotes();
  const [writing, setWriting] = useState<number | "new" | null>(null);
  const at = `number/${id}`;
  const here = notes.map((note, i) => ({ note, i })).filter(({ note }) => note.at === at);
  if (!keepsNotes && here.length === 0) return null;
  return (
    <div className="grid gap-2">
      {here.map(({ note, i }) =>
        writing === i ? null : <NoteView key={i} note={note} onEdit={() => setWriting(i)} onRemove={() => remove(i)} />,
      )}
      {writing === null ? (
        keepsNotes &&
        notes.length < maxNotes && (
          <button type="button" className="act screen-only w-fit text-[0.9rem]" onClick={() => setWriting("new")}>
            Add a note
          </button>
        )
      ) : (
        <NoteEditor
          note={writing === "new" ? { at, text: "" } : (notes[writing] ?? { at, text: "" })}
          onDone={(text) => {
            keep(writing === "new" ? undefined : writing, { at, text });
            setWriting(null);
          }}
          onLeave={() => setWriting(null)}
        />
      )}
    </div>
  );
}

/** NoteView is a note, with what it is about and whether that has changed. */
export function NoteView({ note, onEdit, onRemove }: { note: Note; onEdit: () => void; onRemove: () => void }) {
  const { solution } = useSolution();
  const keepsNotes = useKeepsNotes();
  const placed = placedOf(solution.own_notes, note);
  return (
    <aside
      aria-label={keepsNotes ? "A note of your own" : "A note"}
      data-note={note.at}
      className="flex items-start gap-2 rounded-box border border-muted border-dashed px-3.5 py-2 in-data-margin:gap-0 in-data-margin:px-2 in-data-margin:py-1.5 in-data-margin:text-[0.9rem]"
    >
      <div className="min-w-0 flex-1 font-serif italic in-data-margin:overflow-x-auto">
        {placed?.about && <p className="font-sans text-[0.88rem] text-muted not-italic">{placed.about}</p>}
        {note.drawing && <DrawingView drawing={note.drawing} />}
        {note.text !== "" && <Written text={note.text} />}
        {placed?.changed && (
          <p className="font-sans text-(--expected-text) text-[0.88rem] not-italic">{placed.changed}</p>
        )}
      </div>
      {keepsNotes && (
        <>
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square screen-only"
            aria-label="Change the note"
            onClick={onEdit}
          >
            <Pencil size="1.1em" aria-hidden="true" />
          </button>
          {note.drawing && (
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square screen-only"
              aria-label="Throw the drawing away"
              onClick={onRemove}
            >
              <Trash2 size="1.1em" aria-hidden="true" />
            </button>
          )}
        </>
      )}
    </aside>
  );
}

import { StickyNote } from "lucide-react";
import { type ReactNode, useState } from "react";
import { useKeepsNotes } from "../solution/solution";
import { NoteEditor } from "./NoteEditor";
import { maxNotes } from "./notes";
import { useNotes } from "./useNotes";

interface Props {
  /** What the note is about: table/cases, figure/look, condition/normality. */
  at: string;
  /** What it is called. */
  about: string;
  /** Lays out the way to write a note, and the place where it is written. */
  children: (button: ReactNode, editor: ReactNode) => ReactNode;
}

/** NoteHere lets a note be written at a table, a figure or a condition; it stands with the step once it is written. */
export function NoteHere({ at, about, children }: Props) {
  if (!useKeepsNotes()) return children(null, null);
  return (
    <Writing at={at} about={about}>
      {children}
    </Writing>
  );
}

function Writing({ at, about, children }: Props) {
  const { notes, keep } = useNotes();
  const [writing, setWriting] = useState(false);
  const label = `Add a note to ${about}`;
  return children(
    notes.length < maxNotes && (
      <button
        type="button"
        className="screen-only btn btn-ghost btn-sm h-auto min-h-0 shrink-0 px-1.5 py-1 text-muted"
        aria-label={label}
        title={label}
        onClick={() => setWriting(true)}
      >
        <StickyNote size="1.1em" aria-hidden="true" />
      </button>
    ),
    writing && (
      <NoteEditor
        note={{ at, text: "" }}
        onDone={(text) => {
          keep(undefined, { at, text });
          setWriting(false);
        }}
        onLeave={() => setWriting(false)}
      />
    ),
  );
}

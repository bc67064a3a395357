import { useEffect, useId, useRef, useState } from "react";
import type { Note } from "../api/types";
import { maxNote } from "./notes";

interface EditorProps {
  note: Note;
  onDone: (text: string) => void;
  onLeave: () => void;
}

/** NoteEditor is where a note is written: it is kept when it is left, taken away where nothing stands in it. */
export function NoteEditor({ note, onDone, onLeave }: EditorProps) {
  const [text, setText] = useState(note.text);
  const field = useRef<HTMLTextAreaElement>(null);
  const left = useRef(false);
  const id = useId();
  const done = () => {
    if (left.current) return;
    left.current = true;
    onDone(text);
  };
  // A card that closes around its note takes the editor away before it is left: what was typed is kept all the same.
  const typed = useRef(done);
  typed.current = text === note.text ? () => {} : done;
  useEffect(() => {
    field.current?.focus();
    return () => typed.current();
  }, []);
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="text-[0.9rem] text-muted">
        A note: *italic*, formulas between dollar signs
      </label>
      <textarea
        ref={field}
        id={id}
        className="textarea w-full bg-sheet font-serif"
        rows={3}
        maxLength={maxNote}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={done}
        onKeyDown={(event) => {
          if (event.key === "Escape") {
            left.current = true;
            event.stopPropagation();
            onLeave();
          }
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) done();
        }}
      />
    </div>
  );
}

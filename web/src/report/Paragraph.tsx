import { Pencil } from "lucide-react";
import { useEffect, useId, useRef, useState } from "react";
import type { Part, ReportProblem } from "../api/types";
import { Written } from "../blocks/Written";
import { useSolution } from "../solution/solution";
import { OfProblem } from "./Piece";
import { quotedOf } from "./report";

/** How many characters a paragraph may have. */
const most = 20_000;

interface Props {
  report: string;
  part: Part;
  /** The text with its numbers, as far as it is known. */
  text: string;
  problems: readonly ReportProblem[];
  /** Whether it is to be written at once. */
  begins: boolean;
  onWrite: (change: Partial<Part>) => void;
  /** Leaves it; empty says that nothing stands in it. */
  onLeave: (empty: boolean) => void;
}

/** Paragraph is the person's own words: read as they are set, written as they are typed, with numbers that follow a problem. */
export function Paragraph({ report, part, text, problems, begins, onWrite, onLeave }: Props) {
  const [writing, setWriting] = useState(begins);
  const field = useRef<HTMLTextAreaElement>(null);
  const id = useId();
  useEffect(() => {
    if (writing) field.current?.focus();
  }, [writing]);
  const typed = part.text ?? "";
  if (!writing) {
    return (
      <div className="group/own flex items-start gap-2">
        {/* biome-ignore lint/a11y/noStaticElementInteractions: a shortcut for the button beside it */}
        {/* biome-ignore lint/a11y/useKeyWithClickEvents: as above */}
        <div
          className="grid min-w-0 flex-1 cursor-text gap-2 font-serif text-[1.05rem]"
          onClick={() => setWriting(true)}
        >
          <Written text={text} />
        </div>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square opacity-0 focus-visible:opacity-100 group-hover/own:opacity-100 pointer-coarse:opacity-100"
          aria-label="Write on this paragraph"
          title="Write on this paragraph"
          onClick={() => setWriting(true)}
        >
          <Pencil size="1.1em" aria-hidden="true" />
        </button>
      </div>
    );
  }
  const done = () => {
    setWriting(false);
    onLeave(typed.trim() === "");
  };
  const problem = quotedOf(part, problems);
  const quote = (number: string) => {
    const at = field.current?.selectionStart ?? typed.length;
    onWrite({ text: `${typed.slice(0, at)}@{${number}}${typed.slice(at)}`, problem: problem?.id });
    field.current?.focus();
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it is left when the focus leaves all of it
    <div
      className="grid gap-1.5"
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) done();
      }}
      onKeyDown={(event) => {
        if (event.key === "Escape" || (event.key === "Enter" && (event.ctrlKey || event.metaKey))) done();
      }}
    >
      <label htmlFor={id} className="text-[0.9rem] text-muted">
        Your words: *italic*, # a heading, formulas between dollar signs; an empty line begins a paragraph
      </label>
      <textarea
        ref={field}
        id={id}
        className="textarea field-sizing-content w-full bg-sheet font-serif text-[1.05rem]"
        rows={3}
        maxLength={most}
        value={typed}
        onChange={(event) => onWrite({ text: event.target.value })}
      />
      {problem?.worked && (
        <span className="flex flex-wrap items-center gap-2 text-[0.9rem]">
          {problems.length > 1 && (
            <select
              className="select select-xs w-auto max-w-60 bg-sheet"
              aria-label="Quote from the problem"
              value={problem.id}
              onChange={(event) => onWrite({ problem: event.target.value })}
            >
              {problems.map((each) => (
                <option key={each.id} value={each.id}>
                  {each.title}
                </option>
              ))}
            </select>
          )}
          <OfProblem report={report} problem={problem}>
            <Numbers onQuote={quote} />
          </OfProblem>
        </span>
      )}
    </div>
  );
}

/** Numbers offers the numbers of a solution to be quoted: they follow the problem. */
function Numbers({ onQuote }: { onQuote: (number: string) => void }) {
  const { solution } = useSolution();
  return (
    <select
      className="select select-xs w-auto max-w-72 bg-sheet"
      aria-label="Quote a number"
      value=""
      onChange={(event) => onQuote(event.target.value)}
    >
      <option value="">Quote a number …</option>
      {solution.quantities.map((quantity) => (
        <option key={quantity.id} value={quantity.id}>
          {`${quantity.label}: ${quantity.display}`}
        </option>
      ))}
    </select>
  );
}

import { Check } from "lucide-react";
import { useId, useState } from "react";
import { useDraft } from "./draft";
import { piecesOf, takenBy, targetsOf } from "./numbersIn";

/**
 * NumbersInQuestion shows the question with its numbers marked. One is clicked and then put into a field that is
 * chosen, or dragged into any; those that stand in a field say in which.
 */
export function NumbersInQuestion() {
  const { draft, description, change } = useDraft();
  const [chosen, setChosen] = useState<number | null>(null);
  const id = useId();
  const pieces = piecesOf(draft.question);
  const numbers = pieces.filter((piece) => piece.number !== undefined);
  if (numbers.length === 0) return null;
  const targets = targetsOf(draft, description);
  const inHand = chosen === null ? undefined : pieces[chosen]?.number;
  const put = (target: string) => {
    const to = targets.find((each) => each.id === target);
    if (to && inHand) change(`${to.label} from the question`, (d) => to.put(d, inHand));
    setChosen(null);
  };
  return (
    <details>
      <summary className="act inline cursor-pointer">
        {numbers.length === 1 ? "The number in it" : `The ${numbers.length} numbers in it`}
      </summary>
      <p className="mt-2 text-muted">
        Click a number and say what it is, or drag it into a field or a cell. Nothing is taken by itself.
      </p>
      <p className="mt-2 rounded-field border border-base-300 bg-sheet px-3.5 py-2.5 font-serif text-[1.08rem] leading-[1.9]">
        {pieces.map((piece, i) => {
          // biome-ignore lint/suspicious/noArrayIndexKey: a piece is its place in the text
          if (piece.number === undefined) return <span key={i}>{piece.text}</span>;
          const taken = takenBy(piece.number, targets);
          const says = taken.map((each) => each.label).join(", ");
          return (
            <button
              // biome-ignore lint/suspicious/noArrayIndexKey: as above
              key={i}
              type="button"
              draggable
              aria-pressed={chosen === i}
              title={says && `Stands in: ${says}`}
              className={`cursor-pointer rounded-[0.35rem] border px-1.5 tabular-nums leading-[1.35] ${
                chosen === i ? "border-primary bg-primary text-primary-content" : "border-primary/50 hover:bg-base-200"
              } ${taken.length > 0 && chosen !== i ? "bg-base-200" : ""}`}
              onClick={() => setChosen(chosen === i ? null : i)}
              onDragStart={(event) => event.dataTransfer.setData("text/plain", piece.number ?? "")}
            >
              {piece.text}
              {taken.length > 0 && (
                <span className="ml-1 font-sans text-[0.78rem]">
                  <Check size="0.95em" className="mr-0.5 inline" aria-hidden="true" />
                  {says}
                </span>
              )}
            </button>
          );
        })}
      </p>
      {inHand !== undefined && (
        <div className="mt-2 flex items-center gap-2">
          <label htmlFor={id}>{inHand} is</label>
          <select
            id={id}
            className="select select-sm w-auto bg-sheet"
            value=""
            onChange={(event) => put(event.target.value)}
          >
            <option value="">choose what it is</option>
            {targets.map((target) => (
              <option key={target.id} value={target.id}>
                {target.label}
                {target.value !== "" && ` (now ${target.value})`}
              </option>
            ))}
          </select>
        </div>
      )}
    </details>
  );
}

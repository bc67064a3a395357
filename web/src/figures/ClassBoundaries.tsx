import { useId, useState } from "react";
import { evenBoundaries, readNumber, readNumbers, writeValue } from "../lib/number";

interface Props {
  boundaries: number[];
  onSet: (value: number[]) => void;
}

const look = "input input-sm bg-sheet text-ink aria-invalid:border-region";

/**
 * ClassBoundaries sets the boundaries of classes by typing them, where one that is taken away
 * merges what it parted, or all at once by a width and a start.
 */
export function ClassBoundaries({ boundaries, onSet }: Props) {
  const id = useId();
  const kept = writeValue(boundaries);
  const [text, setText] = useState<string | null>(null);
  const numbers = readNumbers(text ?? kept);
  const wrong = numbers === null || numbers.some((x, i) => i > 0 && x <= (numbers[i - 1] ?? 0));
  const take = () => {
    if (text !== null && !wrong && numbers && text !== kept) onSet(numbers);
    if (!wrong) setText(null);
  };
  return (
    <span className="mr-auto grid flex-1 gap-0.5">
      <label htmlFor={id} className="text-muted">
        Boundaries of the classes: drag them, or type them
      </label>
      <input
        id={id}
        className={`${look} w-full`}
        aria-invalid={wrong}
        aria-describedby={`${id}-note`}
        value={text ?? kept}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === "Enter") take();
          if (event.key === "Escape") setText(null);
        }}
      />
      <span id={`${id}-note`} className="text-(--region-text)">
        {wrong && "Numbers are needed here, each above the one before."}
      </span>
      <EvenClasses boundaries={boundaries} onSet={onSet} />
    </span>
  );
}

/** EvenClasses sets classes of one width. */
function EvenClasses({ boundaries, onSet }: Props) {
  const id = useId();
  const [first = 0, second = 1] = boundaries;
  const [width, setWidth] = useState<string | null>(null);
  const [start, setStart] = useState<string | null>(null);
  const shownWidth = width ?? writeValue(Number((second - first).toPrecision(12)));
  const shownStart = start ?? writeValue(first);
  const made = evenBoundaries(readNumber(shownStart), readNumber(shownWidth), boundaries.at(-1) ?? 0);
  const wrong = typeof made === "string";
  return (
    <form
      className="mt-0.5 flex flex-wrap items-center gap-x-2 gap-y-1 text-muted"
      onSubmit={(event) => {
        event.preventDefault();
        if (wrong) return;
        onSet(made);
        setWidth(null);
        setStart(null);
      }}
    >
      <label htmlFor={`${id}-width`}>Classes of width</label>
      <input
        id={`${id}-width`}
        className={`${look} w-18`}
        inputMode="decimal"
        aria-invalid={wrong}
        aria-describedby={`${id}-note`}
        value={shownWidth}
        onChange={(event) => setWidth(event.target.value)}
      />
      <label htmlFor={`${id}-start`}>from</label>
      <input
        id={`${id}-start`}
        className={`${look} w-18`}
        inputMode="decimal"
        aria-invalid={wrong}
        aria-describedby={`${id}-note`}
        value={shownStart}
        onChange={(event) => setStart(event.target.value)}
      />
      {(width !== null || start !== null) && !wrong && (
        <button type="submit" className="act">
          Make these {made.length - 1} classes
        </button>
      )}
      <span id={`${id}-note`} className="text-(--region-text)">
        {wrong && made}
      </span>
    </form>
  );
}

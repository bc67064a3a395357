import { ChevronDown, ChevronUp, X } from "lucide-react";
import { useEffect, useRef } from "react";

interface Props {
  text: string;
  count: number;
  at: number;
  onText: (text: string) => void;
  onStep: (by: number) => void;
  onClose: () => void;
}

/** FindBar finds cells that hold a text, one after the other. */
export function FindBar({ text, count, at, onText, onStep, onClose }: Props) {
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  return (
    <search className="flex items-center gap-1 rounded-field border border-base-300 bg-base-100 px-1.5">
      <input
        ref={field}
        aria-label="Find in the table"
        className="w-40 bg-transparent px-1 py-1 outline-none"
        placeholder="find"
        value={text}
        onChange={(event) => onText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter") onStep(event.shiftKey ? -1 : 1);
          if (event.key === "Escape") onClose();
        }}
      />
      <span role="status" className="min-w-14 text-muted">
        {text === "" ? "" : count === 0 ? "nowhere" : `${Math.min(at + 1, count)} of ${count}`}
      </span>
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square size-[24px]"
        aria-label="The one before"
        onClick={() => onStep(-1)}
      >
        <ChevronUp size="1.1em" aria-hidden="true" />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square size-[24px]"
        aria-label="The next one"
        onClick={() => onStep(1)}
      >
        <ChevronDown size="1.1em" aria-hidden="true" />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square size-[24px]"
        aria-label="End the search"
        onClick={onClose}
      >
        <X size="1.1em" aria-hidden="true" />
      </button>
    </search>
  );
}

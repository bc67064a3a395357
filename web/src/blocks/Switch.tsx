import type { ReactNode } from "react";
import { upperFirst } from "../lib/words";

interface Props {
  label: string;
  choices: string[];
  chosen: string;
  onChoose: (choice: string) => void;
  /** What stands beside the choices. */
  children?: ReactNode;
}

/** Switch shows one of several views of the same thing. */
export function Switch({ label, choices, chosen, onChoose, children }: Props) {
  return (
    <fieldset className="screen-only mb-2 flex flex-wrap items-center gap-x-1 gap-y-1" aria-label={label}>
      {choices.map((choice) => (
        <button
          key={choice}
          type="button"
          aria-pressed={choice === chosen}
          className={`cursor-pointer rounded-field border px-2 py-0.5 text-[0.9rem] ${
            choice === chosen ? "border-ink bg-ink text-base-100" : "border-base-300 hover:bg-base-200"
          }`}
          onClick={() => onChoose(choice)}
        >
          {upperFirst(choice)}
        </button>
      ))}
      {children}
    </fieldset>
  );
}

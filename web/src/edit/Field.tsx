import { useId } from "react";
import { mistakeSentence } from "../lib/words";
import { useDraft } from "./draft";

interface Props {
  label: string;
  pointer?: string;
  hint?: string;
  children: (props: { id: string; "aria-invalid": boolean; "aria-describedby": string }) => React.ReactNode;
}

/** Field is a label, an input and, under it, what is wrong with it. */
export function Field({ label, pointer, hint, children }: Props) {
  const { mistakes } = useDraft();
  const id = useId();
  // What is wrong with a part of a list is wrong with its field.
  const mistake = mistakes.find((each) => each.pointer === pointer || each.pointer.startsWith(`${pointer}/`));
  return (
    <div className="grid content-start gap-1">
      <label htmlFor={id} className="text-muted">
        {label}
      </label>
      {children({ id, "aria-invalid": mistake !== undefined, "aria-describedby": `${id}-note` })}
      <div id={`${id}-note`}>
        {mistake ? (
          <Mistake says={mistake.says} instead={mistake.instead} />
        ) : (
          hint && <p className="text-[0.9rem] text-muted">{hint}</p>
        )}
      </div>
    </div>
  );
}

/** Mistake says what is wrong and what would be right. */
export function Mistake(mistake: { says: string; instead?: string }) {
  return <p className="text-(--region-text)">{mistakeSentence(mistake)}</p>;
}

/** The look of every text input of the form. */
export const inputLook = "input w-full bg-sheet aria-invalid:border-region";

import { useId, useState } from "react";
import type { PlaceBlock } from "../api/types";
import { readNumber } from "../lib/number";
import { useActions } from "../solution/actions";

/** PlaceView asks for a value of each predictor, at which the response is then predicted. */
export function PlaceView({ block }: { block: PlaceBlock }) {
  const { change } = useActions();
  const id = useId();
  const [typed, setTyped] = useState<Record<number, string>>({});
  const known = block.fields.map((field) => field.label).join("|");
  const [seen, setSeen] = useState(known);
  if (seen !== known) {
    // Other predictors ask for other values.
    setSeen(known);
    setTyped({});
  }
  const values = block.fields.map((field, i) => {
    const text = typed[i] ?? field.value;
    return field.levels ? text : readNumber(text);
  });
  const wrong = values.map((value) => typeof value === "number" && !Number.isFinite(value));
  return (
    <form
      className="screen-only flex flex-wrap items-end gap-x-4 gap-y-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (wrong.some(Boolean)) return;
        change([{ pointer: block.pointer, value: [values] }], "the new case");
        setTyped({});
      }}
    >
      {block.fields.map((field, i) => (
        <span key={field.label} className="grid gap-0.5">
          <label htmlFor={`${id}-${i}`} className="text-muted">
            {field.label}
            {field.unit && ` (${field.unit})`}
          </label>
          {field.levels ? (
            <select
              id={`${id}-${i}`}
              className="select select-sm w-auto bg-sheet"
              value={typed[i] ?? field.value}
              onChange={(event) => setTyped({ ...typed, [i]: event.target.value })}
            >
              {field.levels.map((level) => (
                <option key={level}>{level}</option>
              ))}
            </select>
          ) : (
            <input
              id={`${id}-${i}`}
              className="input input-sm w-24 bg-sheet aria-invalid:border-region"
              inputMode="decimal"
              aria-invalid={wrong[i]}
              title={wrong[i] ? "A number is needed here" : undefined}
              value={typed[i] ?? field.value}
              onChange={(event) => setTyped({ ...typed, [i]: event.target.value })}
            />
          )}
        </span>
      ))}
      <button type="submit" className="act" disabled={wrong.some(Boolean)}>
        Predict it
      </button>
    </form>
  );
}

import { useId, useState } from "react";
import type { Control } from "../api/types";
import { same } from "../lib/same";
import { useActions } from "../solution/actions";
import { useCurrent } from "../solution/current";
import { Symbols } from "./Symbols";

/** The names of so many letters fit beside the control's own name, and so many in a row below it; more need a list. */
const short = 36;
const longest = 48;

/** ControlView is a live choice: the solution follows at once. */
export function ControlView({ control, stacked = false }: { control: Control; stacked?: boolean }) {
  const current = useCurrent();
  const { change } = useActions();
  const label = useId();
  // What was chosen last counts, even where its solution is still on the way.
  const value = current(control.pointer) ?? control.value;
  const other = control.free && !control.choices.some((choice) => same(choice.value, value));
  const [typing, setTyping] = useState(false);
  const length = control.choices.reduce((sum, { label }) => sum + label.length + 3, 0);
  if (!stacked && length > longest) {
    return (
      <p className="flex flex-wrap items-center gap-x-3">
        <label htmlFor={label} className="text-muted">
          {control.label}
        </label>
        <select
          id={label}
          className="select select-sm w-auto bg-sheet"
          value={control.choices.findIndex((choice) => same(choice.value, value))}
          onChange={(event) =>
            change(
              [{ pointer: control.pointer, value: control.choices[Number(event.target.value)]?.value }],
              control.label,
            )
          }
        >
          {control.choices.map((choice, at) => (
            <option key={choice.label} value={at}>
              {choice.label}
            </option>
          ))}
        </select>
      </p>
    );
  }
  return (
    <div
      className={
        stacked
          ? "mt-3"
          : `grid items-center max-sm:grid-cols-1 ${
              control.beside === "step"
                ? "grid-cols-[auto_1fr] gap-x-3"
                : length > short
                  ? ""
                  : "grid-cols-[5.6rem_1fr]"
            }`
      }
    >
      <span id={label} className="text-muted">
        {control.label}
      </span>
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame */}
      <div
        role="group"
        aria-labelledby={label}
        className={`flex overflow-hidden rounded-field border border-base-300 ${stacked ? "mt-1 flex-col" : ""}`}
      >
        {control.choices.map((choice) => {
          const on = same(choice.value, value) && !typing;
          return (
            <button
              key={choice.label}
              type="button"
              aria-pressed={on}
              title={choice.says}
              className={`moves flex-1 cursor-pointer border-base-300 px-2 py-1 ${stacked ? "border-t text-left first:border-t-0" : "whitespace-nowrap border-l text-center first:border-l-0"} ${
                on ? "bg-neutral font-semibold text-neutral-content" : "bg-sheet hover:bg-base-200"
              }`}
              onClick={() => {
                setTyping(false);
                if (!on) change([{ pointer: control.pointer, value: choice.value }], control.label);
              }}
            >
              {stacked ? choice.label : <Symbols text={choice.label} />}
            </button>
          );
        })}
        {control.free &&
          (typing ? (
            <FreeValue control={control} onDone={() => setTyping(false)} />
          ) : (
            <button
              type="button"
              aria-pressed={other}
              className={`flex-1 cursor-pointer border-base-300 border-l px-2 py-1 ${other ? "bg-neutral font-semibold text-neutral-content" : "bg-sheet hover:bg-base-200"}`}
              onClick={() => setTyping(true)}
            >
              {other ? String(value) : "other"}
            </button>
          ))}
      </div>
    </div>
  );
}

/** FreeValue takes a number between 0 and 1; a wrong one stays to be mended. */
function FreeValue({ control, onDone }: { control: Control; onDone: () => void }) {
  const { change } = useActions();
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState(false);
  const take = () => {
    const value = Number(text.trim().replace(",", "."));
    if (text.trim() === "") return onDone();
    if (!(value > 0 && value < 1)) return setWrong(true);
    change([{ pointer: control.pointer, value }], control.label);
    onDone();
  };
  return (
    <span className="relative flex-1">
      <input
        // biome-ignore lint/a11y/noAutofocus: the person has just asked for this field
        autoFocus
        className={`w-full bg-sheet px-2 py-1 text-center outline-none ring-2 ring-inset ${wrong ? "ring-region" : "ring-primary"}`}
        aria-label={`${control.label}, a number between 0 and 1`}
        aria-invalid={wrong}
        inputMode="decimal"
        placeholder="0.02"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setWrong(false);
        }}
        onKeyDown={(event) => {
          if (event.key === "Enter") take();
          if (event.key === "Escape") onDone();
        }}
        onBlur={take}
      />
      {wrong && (
        <span
          role="alert"
          className="fixed z-30 mt-1 rounded-field border border-region bg-sheet px-2 py-1 text-(--region-text)"
        >
          A number between 0 and 1, as 0.02 is
        </span>
      )}
    </span>
  );
}

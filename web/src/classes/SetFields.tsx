import { useId } from "react";
import type { Settings } from "../api/types";
import { fromField, toField } from "./when";

interface Props {
  settings: Settings;
  released: boolean;
  onSet: (says: string, part: Partial<Settings>) => void;
  onRelease: (released: boolean) => void;
}

const solutions = [
  { value: "after_due", says: "once the set is due" },
  { value: "when_released", says: "when you release it" },
  { value: "at_once", says: "at any time" },
];

const shares = [
  { value: 0, says: "nothing" },
  { value: 0.1, says: "a tenth of the points" },
  { value: 0.25, says: "a quarter of the points" },
  { value: 0.5, says: "half of the points" },
];

/** A choice among whole numbers, the problem's own where it is undefined. */
interface Counted {
  value: number | undefined;
  says: string;
}

const helps: Counted[] = [
  { value: undefined, says: "as each problem has it" },
  { value: 0, says: "none" },
  { value: 1, says: "words" },
  { value: 2, says: "words and the formula" },
  { value: 3, says: "words, the formula and its numbers" },
  { value: 4, says: "up to the answer" },
];

const tries: Counted[] = [
  { value: undefined, says: "as each problem has it" },
  ...[1, 2, 3, 5].map((value) => ({ value, says: value === 1 ? "one" : String(value) })),
];

const digits: Counted[] = [
  { value: undefined, says: "as each problem has it" },
  ...[2, 3, 4, 5].map((value) => ({ value, says: `${value} significant digits` })),
];

const asks = [
  { value: "", says: "what each problem asks" },
  { value: "all", says: "everything that is worked out by hand" },
  { value: "main", says: "the main ones" },
];

/** SetFields say how a set is handed out. */
export function SetFields({ settings, released, onSet, onRelease }: Props) {
  const id = useId();
  const named = (label: string, field: (id: string) => React.ReactNode) => (
    <div className="grid gap-1">
      <label htmlFor={`${id}-${label}`} className="text-[0.92rem] text-muted">
        {label}
      </label>
      {field(`${id}-${label}`)}
    </div>
  );
  const choice = (label: string, says: string, list: Counted[], value: number | undefined, key: keyof Settings) =>
    named(label, (field) => (
      <select
        id={field}
        className="select select-sm w-full bg-sheet"
        value={value ?? ""}
        onChange={(event) => onSet(says, { [key]: event.target.value === "" ? undefined : Number(event.target.value) })}
      >
        {list.map((each) => (
          <option key={each.says} value={each.value ?? ""}>
            {each.says}
          </option>
        ))}
      </select>
    ));
  const time = (label: string, key: "opens" | "due") =>
    named(label, (field) => (
      <input
        id={field}
        type="datetime-local"
        className="input input-sm w-full bg-sheet"
        value={toField(settings[key])}
        onChange={(event) => onSet(label.toLowerCase(), { [key]: fromField(event.target.value) })}
      />
    ));
  const early = settings.opens && settings.due && new Date(settings.due) <= new Date(settings.opens);
  const asked = settings.asks === undefined ? "" : String(settings.asks);
  return (
    <section className="grid gap-4" aria-label="How it is handed out">
      <h2 className="font-semibold text-[1.15rem]">How it is handed out</h2>
      {time("Opens", "opens")}
      {time("Due", "due")}
      {early && (
        <p role="alert" className="border-region border-l-2 pl-3 text-(--region-text)">
          It is due before it opens: set a later time.
        </p>
      )}
      {named("The solution may be read", (field) => (
        <select
          id={field}
          className="select select-sm w-full bg-sheet"
          value={settings.solution}
          onChange={(event) => onSet("when the solution may be read", { solution: event.target.value })}
        >
          {solutions.map((each) => (
            <option key={each.value} value={each.value}>
              {each.says}
            </option>
          ))}
        </select>
      ))}
      {settings.solution === "after_due" && !settings.due && !released && (
        <p className="text-[0.92rem] text-muted">It is never due as it stands, so the solution stays closed.</p>
      )}
      {settings.solution !== "at_once" && (
        <button type="button" className="act w-fit" onClick={() => onRelease(!released)}>
          {released ? "Take the solution back" : "Release the solution now"}
        </button>
      )}
      <label className="flex cursor-pointer items-baseline gap-2.5">
        <input
          type="checkbox"
          className="checkbox checkbox-sm relative top-0.5"
          checked={settings.other_numbers ?? false}
          onChange={(event) => onSet("other numbers", { other_numbers: event.target.checked || undefined })}
        />
        <span>
          Other numbers for everyone
          <span className="block text-[0.9rem] text-muted">The same question; data of each student’s own.</span>
        </span>
      </label>
      {settings.other_numbers &&
        named("What stays with other numbers", (field) => (
          <select
            id={field}
            className="select select-sm w-full bg-sheet"
            value={settings.keep || "decision"}
            onChange={(event) => onSet("what stays", { keep: event.target.value })}
          >
            <option value="decision">the decision: all reject, or none does</option>
            <option value="nothing">nothing: some may reject and others not</option>
          </select>
        ))}
      {named("What is asked", (field) => (
        <select
          id={field}
          className="select select-sm w-full bg-sheet"
          value={asked}
          onChange={(event) => onSet("what is asked", { asks: event.target.value || undefined })}
        >
          {asks.map((each) => (
            <option key={each.value} value={each.value}>
              {each.says}
            </option>
          ))}
        </select>
      ))}
      {choice("Help", "help", helps, settings.help, "help")}
      {choice("Tries at each answer", "tries", tries, settings.tries, "tries")}
      {choice("Digits of an answer", "digits", digits, settings.digits, "digits")}
      {choice("Each further try costs", "what tries cost", shares, settings.try_costs ?? 0, "try_costs")}
      {choice("Each step of help costs", "what help costs", shares, settings.help_costs ?? 0, "help_costs")}
    </section>
  );
}

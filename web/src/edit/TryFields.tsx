import type { Draft } from "../api/types";
import { useDraft } from "./draft";
import { Field } from "./Field";

const asks = [
  { value: "all", says: "everything that is worked out by hand" },
  { value: "main", says: "the main ones: hypotheses, statistic, critical value, p, decision, conclusion" },
];

const helps = [
  { value: 4, says: "words, the formula, its numbers, and the answer at last" },
  { value: 3, says: "words, the formula and its numbers" },
  { value: 2, says: "words and the formula" },
  { value: 1, says: "words" },
  { value: 0, says: "none" },
];

/** TryFields say how the problem is worked in Try: what is asked, how far help goes, how many digits an answer is to have. */
export function TryFields() {
  const { draft, change } = useDraft();
  const picked = draft.try?.asks;
  const list = picked === undefined ? ["all"] : typeof picked === "string" ? [picked] : picked;
  const chosen = list.length === 1 ? (list[0] as string) : "picked";
  const known = asks.some((each) => each.value === chosen);
  const setTry = (says: string, part: Partial<NonNullable<Draft["try"]>>) =>
    change(says, (d) => {
      const next = { ...d.try, ...part };
      const empty = next.asks === undefined && next.help === undefined;
      return { ...d, try: empty ? undefined : next };
    });
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <Field label="What Try asks" pointer="/try/asks">
        {(field) => (
          <select
            {...field}
            className="select w-full bg-sheet"
            value={known ? chosen : "picked"}
            onChange={(event) =>
              setTry("what Try asks", { asks: event.target.value === "all" ? undefined : [event.target.value] })
            }
          >
            {asks.map((each) => (
              <option key={each.value} value={each.value}>
                {each.says}
              </option>
            ))}
            {!known && (
              <option value="picked" disabled>
                {list.length} asks that the problem file picks
              </option>
            )}
          </select>
        )}
      </Field>
      <Field label="Help in Try" pointer="/try/help">
        {(field) => (
          <select
            {...field}
            className="select w-full bg-sheet"
            value={draft.try?.help ?? 4}
            onChange={(event) =>
              setTry("help in Try", { help: event.target.value === "4" ? undefined : Number(event.target.value) })
            }
          >
            {helps.map((each) => (
              <option key={each.value} value={each.value}>
                {each.says}
              </option>
            ))}
          </select>
        )}
      </Field>
      <Field
        label="Digits of an answer"
        pointer="/digits"
        hint="Significant ones; with fewer an answer is right as far as it goes."
      >
        {(field) => (
          <select
            {...field}
            className="select w-full bg-sheet"
            value={draft.digits ?? 3}
            onChange={(event) =>
              change("digits of an answer", (d) => ({
                ...d,
                digits: event.target.value === "3" ? undefined : Number(event.target.value),
              }))
            }
          >
            {[1, 2, 3, 4, 5, 6, ...(draft.digits && draft.digits > 6 ? [draft.digits] : [])].map((digits) => (
              <option key={digits} value={digits}>
                {digits}
              </option>
            ))}
          </select>
        )}
      </Field>
    </div>
  );
}

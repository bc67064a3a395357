import type { Description, Draft, Tail } from "../api/types";
import { AskedField } from "./AskedField";
import { useDraft } from "./draft";
import { Field, inputLook } from "./Field";
import { OptionField } from "./options";

const tails: { value: Tail; says: string }[] = [
  { value: "both", says: "it differs, on either side (two tails)" },
  { value: "left", says: "it is lower (left tail)" },
  { value: "right", says: "it is higher (right tail)" },
];

/** ProcedureField chooses what is asked. What the other procedure knows of the problem is carried over. */
export function ProcedureField() {
  const { description, change } = useDraft();
  return <AskedField onTake={(next) => change("what is asked", (d) => carried(d, description, next))} />;
}

/** carried returns a draft for another procedure, with what that one knows of its roles, options and tail. */
function carried(draft: Draft, from: Description, to: Description): Draft {
  const typeOf = (description: Description, id: string) => description.options.find((each) => each.id === id)?.type;
  const keeps = (id: string) => typeOf(to, id) !== undefined && typeOf(to, id) === typeOf(from, id);
  const draftTo = {
    ...draft,
    procedure: to.id,
    roles: Object.fromEntries(
      Object.entries(draft.roles).filter(([role]) => to.roles.some((each) => each.id === role)),
    ),
    options: Object.fromEntries(Object.entries(draft.options).filter(([option]) => keeps(option))),
  };
  return { ...draftTo, tail: hasDirection(to, draftTo) ? draft.tail : "both" };
}

/** hasDirection reports whether H₁ can take one side, with the options that are chosen. */
const hasDirection = ({ tails, directed_by }: Description, { options }: Draft): boolean =>
  tails && (directed_by === undefined || options[directed_by] !== undefined);

/** TestFields are alpha, the tail and the procedure's own options. */
export function TestFields() {
  const { draft, description, change } = useDraft();
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <Field label="Alpha, chosen before looking" pointer="/alpha">
        {(field) => (
          <input
            {...field}
            className={inputLook}
            inputMode="decimal"
            value={draft.alpha}
            onChange={(event) => change("alpha", (d) => ({ ...d, alpha: event.target.value }))}
          />
        )}
      </Field>
      <Field
        label="Level of the intervals"
        pointer="/confidence"
        hint="1 − α unless the question asks for another, so that interval and test tell the same."
      >
        {(field) => (
          <select
            {...field}
            className="select w-full bg-sheet"
            value={draft.confidence ?? ""}
            onChange={(event) =>
              change("level of the intervals", (d) => ({
                ...d,
                confidence: event.target.value === "" ? undefined : Number(event.target.value),
              }))
            }
          >
            <option value="">1 − α</option>
            {[...new Set([0.8, 0.9, 0.95, 0.98, 0.99, 0.999, draft.confidence ?? 0.95])].sort().map((level) => (
              <option key={level} value={level}>
                {level}
              </option>
            ))}
          </select>
        )}
      </Field>
      {hasDirection(description, draft) && (
        <Field label="H₁ says that" pointer="/tail">
          {(field) => (
            <select
              {...field}
              className="select w-full bg-sheet"
              value={draft.tail}
              onChange={(event) => change("tail", (d) => ({ ...d, tail: event.target.value as Tail }))}
            >
              {tails.map((tail) => (
                <option key={tail.value} value={tail.value}>
                  {tail.says}
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
      {description.options.map((option) => (
        <OptionField key={option.id} option={option} />
      ))}
    </div>
  );
}

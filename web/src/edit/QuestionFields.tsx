import type { Side } from "../api/types";
import { useDraft } from "./draft";
import { Field, inputLook } from "./Field";

/** QuestionFields are the problem's name and its text. */
export function QuestionFields() {
  const { draft, change } = useDraft();
  return (
    <>
      <Field label="Name of the problem">
        {(field) => (
          <input
            {...field}
            className={`${inputLook} font-semibold font-serif text-[1.2rem]`}
            placeholder="Do the two berths load at the same speed?"
            value={draft.title}
            onChange={(event) => change("name", (d) => ({ ...d, title: event.target.value }))}
          />
        )}
      </Field>
      <Field label="The question, as the textbook puts it">
        {(field) => (
          <textarea
            {...field}
            className="textarea field-sizing-content min-h-20 w-full bg-sheet font-serif text-[1.1rem]"
            value={draft.question}
            onChange={(event) => change("question", (d) => ({ ...d, question: event.target.value }))}
          />
        )}
      </Field>
    </>
  );
}

const sides: { value: Side; says: string }[] = [
  { value: "h0", says: "there is no difference (H₀)" },
  { value: "h1", says: "there is a difference (H₁)" },
];

/** ClaimFields are what somebody claims, if anybody does: the conclusion then answers it. */
export function ClaimFields() {
  const { draft, change } = useDraft();
  return (
    <details open={draft.claim.text !== ""}>
      <summary className="act inline cursor-pointer">A claim to be answered</summary>
      <div className="mt-3 grid gap-4 sm:grid-cols-2">
        <Field
          label="In its own words"
          pointer="/claim/text"
          hint="The conclusion answers it. Leave it empty if nothing is claimed."
        >
          {(field) => (
            <input
              {...field}
              className={inputLook}
              placeholder="It makes no difference where she ties up."
              value={draft.claim.text}
              onChange={(event) => change("claim", (d) => ({ ...d, claim: { ...d.claim, text: event.target.value } }))}
            />
          )}
        </Field>
        <Field label="About which population">
          {(field) => (
            <input
              {...field}
              className={inputLook}
              placeholder="all loadings of the Dunlin"
              value={draft.claim.population ?? ""}
              onChange={(event) =>
                change("population", (d) => ({ ...d, claim: { ...d.claim, population: event.target.value } }))
              }
            />
          )}
        </Field>
        <Field label="The claim says that" pointer="/claim/is">
          {(field) => (
            <select
              {...field}
              className="select w-full bg-sheet"
              value={draft.claim.is}
              onChange={(event) =>
                change("side of the claim", (d) => ({ ...d, claim: { ...d.claim, is: event.target.value as Side } }))
              }
            >
              {sides.map((side) => (
                <option key={side.value} value={side.value}>
                  {side.says}
                </option>
              ))}
            </select>
          )}
        </Field>
      </div>
    </details>
  );
}

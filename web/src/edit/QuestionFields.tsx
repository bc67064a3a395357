import type { Statement } from "../api/types";
import { useDraft } from "./draft";
import { Field, inputLook } from "./Field";
import { NumbersInQuestion } from "./NumbersInQuestion";
import { QuotedNumbers } from "./QuotedNumbers";

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
      <NumbersInQuestion />
      <QuotedNumbers />
    </>
  );
}

const statements: { value: Statement; says: string; directed?: true }[] = [
  { value: "equal", says: "it is so: no difference, no effect, just this value" },
  { value: "different", says: "it differs, to either side" },
  { value: "larger", says: "it is more, higher, rises", directed: true },
  { value: "smaller", says: "it is less, lower, falls", directed: true },
  { value: "at_most", says: "it is at most that, not more", directed: true },
  { value: "at_least", says: "it is at least that, not less", directed: true },
  { value: "open", says: "something else, that this test cannot weigh" },
];

/** ClaimFields are what somebody claims, if anybody does: the conclusion then answers it. */
export function ClaimFields() {
  const { draft, description, change } = useDraft();
  const compared = description?.compared;
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
        <div className="sm:col-span-2">
          <Field
            label="The claim says that"
            pointer="/claim/says"
            hint={compared ? `More and less are said of ${compared}.` : "This test has no direction."}
          >
            {(field) => (
              <select
                {...field}
                className="select w-full bg-sheet"
                value={draft.claim.says}
                onChange={(event) =>
                  change("what is claimed", (d) => ({
                    ...d,
                    claim: { ...d.claim, says: event.target.value as Statement, is: undefined },
                  }))
                }
              >
                {statements
                  .filter((one) => compared || !one.directed || one.value === draft.claim.says)
                  .map((one) => (
                    <option key={one.value} value={one.value}>
                      {one.says}
                    </option>
                  ))}
              </select>
            )}
          </Field>
        </div>
      </div>
    </details>
  );
}

import { Search } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Description, Kind } from "../api/types";
import { Dialog } from "../app/Dialog";
import { found, groupedBy } from "../lib/finding";
import { useDraftSheet } from "./DataFields";
import { useDraft } from "./draft";
import { Field } from "./Field";
import { type AtHand, needsOf, whyNot } from "./fitting";

interface Props {
  onTake: (procedure: Description) => void;
}

/** AskedField shows what is asked, and opens all that can be. */
export function AskedField({ onTake }: Props) {
  const { description } = useDraft();
  const [open, setOpen] = useState(false);
  return (
    <Field label="What is asked" pointer="/procedure" hint={`Also called ${description.also_called.join(", ")}.`}>
      {(field) => (
        <>
          <button
            {...field}
            type="button"
            className="flex w-full cursor-pointer items-baseline justify-between gap-4 rounded-field border border-base-300 bg-sheet px-3.5 py-2.5 text-left hover:border-primary"
            onClick={() => setOpen(true)}
          >
            <span>
              <span className="block font-serif text-[1.12rem]">{description.asks}</span>
              <span className="text-muted">{description.title}</span>
            </span>
            <span className="act shrink-0">Ask another</span>
          </button>
          <Fitting onTake={onTake} />
          {open && (
            <AskedDialog
              onTake={(procedure) => {
                onTake(procedure);
                setOpen(false);
              }}
              onClose={() => setOpen(false)}
            />
          )}
        </>
      )}
    </Field>
  );
}

/** Fitting says that what is asked does not fit the data, and offers what does. */
function Fitting({ onTake }: Props) {
  const { description, procedures } = useDraft();
  const atHand = useAtHand();
  const why = whyNot(description, atHand);
  if (!why) return null;
  const fitting = procedures.filter((each) => whyNot(each, atHand) === null);
  return (
    <div className="mt-2 border-region border-l-2 pl-3" role="status">
      <p className="text-(--region-text)">{why}</p>
      {fitting.length > 0 && (
        <p className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
          <span className="text-muted">What fits:</span>
          {fitting.slice(0, 8).map((each) => (
            <button key={each.id} type="button" className="act" onClick={() => onTake(each)}>
              {each.title}
            </button>
          ))}
        </p>
      )}
    </div>
  );
}

/** AskedDialog has all that can be asked, by what it is about, with what it needs; what does not fit the data says why. */
function AskedDialog({ onTake, onClose }: Props & { onClose: () => void }) {
  const { description: present, procedures } = useDraft();
  const atHand = useAtHand();
  const [looked, setLooked] = useState("");
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), []); // after the dialog, which focuses its first button
  const seen = found(procedures, looked, (each) => [each.asks, each.title, each.family, ...each.also_called].join(" "));
  return (
    <Dialog title="What is asked?" onClose={onClose} wide>
      <label className="input w-full bg-sheet">
        <Search size="1.1em" aria-hidden="true" className="text-muted" />
        <input
          type="search"
          ref={input}
          aria-label="Find what is asked"
          placeholder="in your words, or by the name of the test: paired, goodness of fit, regression …"
          value={looked}
          onChange={(event) => setLooked(event.target.value)}
        />
      </label>
      {seen.length === 0 && (
        <p className="mt-5 text-muted" role="status">
          Nothing is called “{looked}” here. Try a part of the name, or say what is compared: means, proportions,
          counts.
        </p>
      )}
      {groupedBy(seen, (each) => each.family).map(({ name, things }) => (
        <section key={name} className="mt-5">
          <h3 className="border-base-300 border-b pb-1 font-semibold text-muted">{name}</h3>
          <ul>
            {things.map((each) => {
              const why = whyNot(each, atHand);
              return (
                <li key={each.id} className="border-base-300 border-b last:border-0">
                  <button
                    type="button"
                    aria-pressed={each.id === present.id}
                    className={`w-full cursor-pointer rounded-field px-2 py-2 text-left hover:bg-base-200 ${each.id === present.id ? "bg-base-200" : ""}`}
                    onClick={() => onTake(each)}
                  >
                    <span className={`block font-serif text-[1.1rem] leading-snug ${why ? "text-muted" : ""}`}>
                      {each.asks}
                    </span>
                    <span className="block">
                      {each.title}
                      <span className="text-muted"> · {each.also_called.join(", ")}</span>
                    </span>
                    <span className="block text-[0.9rem] text-muted">
                      {why ? <span className="text-(--region-text)">{why}</span> : `Needs ${needsOf(each)}.`}
                    </span>
                  </button>
                </li>
              );
            })}
          </ul>
        </section>
      ))}
    </Dialog>
  );
}

/** useAtHand returns what the draft has to work with. */
function useAtHand(): AtHand {
  const { draft } = useDraft();
  const { sheet, profiles } = useDraftSheet();
  if (draft.entry === "summary") return { form: "summary", kinds: {} };
  const kinds: Partial<Record<Kind, number>> = {};
  for (const column of sheet.columns) {
    const kind = column.kind || profiles.get(column.key)?.kind;
    if (kind && column.name.trim() !== "") kinds[kind] = (kinds[kind] ?? 0) + 1;
  }
  return { form: sheet.form, kinds };
}

import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { request } from "../api/client";
import type { AskList, Draft } from "../api/types";
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
  // Those that are asked whatever else is.
  const first = ["hypotheses", "decision"];
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
            onChange={(event) => {
              const { value } = event.target;
              setTry("what Try asks", { asks: value === "all" ? undefined : value === "picked" ? first : [value] });
            }}
          >
            {asks.map((each) => (
              <option key={each.value} value={each.value}>
                {each.says}
              </option>
            ))}
            <option value="picked">those that I pick</option>
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
      {!known && <PickedAsks picked={list} onPick={(next) => setTry("what Try asks", { asks: next })} />}
    </div>
  );
}

/** PickedAsks are all asks that there could be, of which some are picked; one at least. */
function PickedAsks({ picked, onPick }: { picked: string[]; onPick: (asks: string[]) => void }) {
  const { id = "" } = useParams();
  const { data, error } = useQuery({
    queryKey: ["asks", id],
    queryFn: () => request<AskList>("GET", `/api/problems/${id}/asks`),
    staleTime: 0,
  });
  if (error)
    return <p className="text-muted sm:col-span-2">What could be asked is known once the problem can be worked.</p>;
  return (
    <fieldset className="sm:col-span-2">
      <legend className="mb-1">Picked</legend>
      <div className="grid max-h-72 gap-x-4 gap-y-1 overflow-y-auto sm:grid-cols-2">
        {data?.asks.map((ask) => (
          <label key={ask.id} className="flex cursor-pointer items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={picked.includes(ask.id)}
              disabled={picked.length === 1 && picked[0] === ask.id}
              onChange={(event) =>
                onPick(event.target.checked ? [...picked, ask.id] : picked.filter((each) => each !== ask.id))
              }
            />
            {ask.label}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

import { useQuery } from "@tanstack/react-query";
import { request } from "../api/client";
import type { Worked } from "../api/types";
import { useDraft } from "./draft";
import { quotablesIn, quoted } from "./quoted";

/**
 * QuotedNumbers warns of numbers in the question that are of the data: with other numbers they would be wrong. Written
 * as a quotation they follow the data.
 */
export function QuotedNumbers() {
  const { id, draft, mistakes, change } = useDraft();
  const { data } = useQuery({
    queryKey: ["data-step", id, draft.roles, draft.summary, mistakes.length],
    queryFn: () => request<Worked>("POST", `/api/problems/${id}/work`, { set: [], steps: 2 }),
    enabled: mistakes.length === 0 && /\d/.test(draft.question),
    retry: false,
  });
  const found = quotablesIn(draft.question, data?.solution.quantities ?? []);
  if (found.length === 0) return null;
  return (
    <div className="rounded-field border border-base-300 px-3.5 py-2.5" data-testid="quotable">
      <p>With other numbers these would be wrong in the question:</p>
      <ul className="mt-1 grid gap-1">
        {found.map((each) => (
          <li key={each.text}>
            {each.text} ({each.label}).{" "}
            <button
              type="button"
              className="act"
              onClick={() => change("a number quoted", (d) => ({ ...d, question: quoted(d.question, each) }))}
            >
              Let it follow the data
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

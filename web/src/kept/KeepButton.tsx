import { Bookmark } from "lucide-react";
import { upperFirst } from "../lib/words";
import { useKeeps } from "./kept";

interface Props {
  /** What is kept: number/t, table/cases. */
  at: string;
  /** What it is called, as "the table “…”". */
  what: string;
  words?: string;
}

/** KeepButton keeps something for the report, or takes it away again. */
export function KeepButton({ at, what, words }: Props) {
  const keeps = useKeeps();
  if (!keeps) return null;
  const kept = keeps.at.has(at);
  const label = kept ? `${upperFirst(what)} is kept for the report` : `Keep ${what} for the report`;
  return (
    <button
      type="button"
      aria-pressed={kept}
      aria-label={words ? undefined : label}
      title={label}
      data-keep={at}
      className={`screen-only btn btn-ghost btn-sm h-auto min-h-0 shrink-0 gap-1.5 px-1.5 py-1 font-normal ${kept ? "text-primary" : "text-muted"}`}
      onClick={() => keeps.toggle(at, what)}
    >
      <Bookmark size="1.1em" aria-hidden="true" fill={kept ? "currentColor" : "none"} />
      {words}
    </button>
  );
}

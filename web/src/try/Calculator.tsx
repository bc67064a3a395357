import { useQuery } from "@tanstack/react-query";
import { CornerLeftUp, X } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import type { Table } from "../api/types";
import { findTable, useSolution } from "../solution/solution";
import { type Columns, calculate, writeAnswer, writeResult } from "./calculate";

/** How many cases the calculator adds up; of more the sums would be asked of a program. */
const mostCases = 2000;

interface Line {
  text: string;
  result?: number;
  error?: string;
}

interface Props {
  /** Puts a number into the field that was in hand last. */
  onPut: (text: string) => void;
  onClose: () => void;
}

/** Calculator is at hand beside the work: it shows its arithmetic line by line, and puts a result into the field in hand. */
export function Calculator({ onPut, onClose }: Props) {
  const columns = useColumns();
  const [typed, setTyped] = useState("");
  const [lines, setLines] = useState<Line[]>([]);
  const field = useRef<HTMLInputElement>(null);
  const last = lines.findLast((line) => line.result !== undefined)?.result;
  const work = () => {
    const text = typed.trim();
    if (text === "") return;
    const add = (line: Line) => setLines((before) => [...before.slice(-30), line]);
    try {
      add({ text, result: calculate(text, columns, last) });
      setTyped("");
    } catch (error) {
      add({ text, error: (error as Error).message });
    }
  };
  const put = (text: string) => {
    const at = field.current?.selectionStart ?? typed.length;
    setTyped(typed.slice(0, at) + text + typed.slice(at));
    field.current?.focus();
  };
  return (
    <section
      aria-label="Calculator"
      className="screen-only fixed right-4 bottom-16 z-20 grid w-[min(24rem,calc(100vw-2rem))] gap-2 rounded-box border border-base-300 bg-raised p-3 shadow-lg"
    >
      <div className="flex items-center justify-between">
        <h2 className="font-semibold">Calculator</h2>
        <button type="button" className="btn btn-ghost btn-xs btn-square" aria-label="Close" onClick={onClose}>
          <X size="1.1em" aria-hidden="true" />
        </button>
      </div>
      {lines.length > 0 && (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a long list scrolls by key
        <ol className="grid max-h-52 gap-1 overflow-y-auto font-serif" aria-live="polite" tabIndex={0}>
          {lines.map((line, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: lines come one by one and stay
            <li key={i} className="flex flex-wrap justify-between gap-x-3">
              <span className="break-all">{line.text}</span>
              {line.error ? (
                <span className="text-(--region-text)">{line.error}</span>
              ) : (
                <span className="font-semibold">= {writeResult(line.result ?? 0)}</span>
              )}
            </li>
          ))}
        </ol>
      )}
      <input
        ref={field}
        // biome-ignore lint/a11y/noAutofocus: it was opened to type into
        autoFocus
        className="input input-sm w-full bg-sheet font-serif"
        aria-label="Expression"
        placeholder="√(0.67²/18 + 2.13²/15)"
        value={typed}
        maxLength={400}
        spellCheck={false}
        autoComplete="off"
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape") onClose();
          if (event.key !== "Enter") return;
          event.preventDefault();
          if (event.altKey || event.ctrlKey) {
            if (last !== undefined) onPut(writeAnswer(last));
          } else work();
        }}
      />
      <div className="flex flex-wrap gap-1">
        {["√(", "²", "(", ")", "ans"].map((sign) => (
          <button key={sign} type="button" className="btn btn-xs" onClick={() => put(sign)}>
            {sign}
          </button>
        ))}
        {[...columns.keys()].map((name) => (
          <button key={name} type="button" className="btn btn-xs" onClick={() => put(`sum([${name}])`)}>
            Σ {name}
          </button>
        ))}
      </div>
      <button
        type="button"
        className="btn btn-sm"
        disabled={last === undefined}
        onClick={() => last !== undefined && onPut(writeAnswer(last))}
        title="Alt+Enter"
      >
        <CornerLeftUp size="1.1em" aria-hidden="true" />
        Put {last === undefined ? "the result" : writeAnswer(last)} into the field
      </button>
    </section>
  );
}

/** useColumns are the numeric columns of the cases by name, for each group where there are groups. */
function useColumns(): Columns {
  const { solution, rows } = useSolution();
  const table = findTable(solution, "cases");
  const all = useQuery({
    queryKey: ["try-cases", table?.total, table?.columns.map((column) => column.id)],
    enabled: table !== undefined && table.total <= mostCases,
    queryFn: async () => {
      const pages: Table[] = [];
      for (let from = 0; table && from < table.total; from += pages.at(-1)?.rows.length || table.total)
        pages.push(await rows("cases", from));
      return pages.flatMap((page) => page.rows);
    },
    staleTime: Number.POSITIVE_INFINITY,
  });
  return useMemo(() => {
    const columns = new Map<string, number[]>();
    if (!table || !all.data) return columns;
    const numeric = table.columns.filter((column) => column.numeric && column.id !== "case" && !column.formula);
    const grouped = table.columns.some((column) => column.id === "group");
    for (const column of numeric) {
      for (const row of all.data) {
        const value = row[column.id];
        if (typeof value !== "number") continue;
        const name = grouped ? `${column.label}, ${row.group}` : column.label;
        columns.set(name, [...(columns.get(name) ?? []), value]);
      }
    }
    return columns;
  }, [table, all.data]);
}

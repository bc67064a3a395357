import { useMutation } from "@tanstack/react-query";
import { useId } from "react";
import type { Column, Filter, Relation, Table } from "../api/types";
import { readNumber } from "../lib/number";
import { useChosen } from "../solution/chosen";
import { type RowsAsked, useSolution } from "../solution/solution";

/** What is typed to filter rows; it filters once it has a value that can be. */
export interface TypedFilter {
  column: string;
  is: Relation;
  value: string;
}

/** filterOf returns the filter that is typed, undefined where it is none. */
export function filterOf(typed: TypedFilter, columns: Column[]): Filter | undefined {
  const value = typed.value.trim();
  if (value === "") return undefined;
  if (!columns.find((column) => column.id === typed.column)?.numeric) return { ...typed, is: "same", value };
  const number = readNumber(value);
  return Number.isFinite(number) ? { ...typed, value: String(number) } : undefined;
}

const relations: [Relation, string][] = [
  ["beyond", "as far from 0 as"],
  ["at-least", "at least"],
  ["at-most", "at most"],
  ["same", "equal to"],
];

interface Props {
  /** The whole table. */
  table: Table;
  /** The table as filtered. */
  kept: Table;
  asked: RowsAsked;
  typed: TypedFilter;
  onType: (typed: TypedFilter) => void;
}

/** RowFilter keeps the rows of a table in which a column is so, and chooses their cases. */
export function RowFilter({ table, kept, asked, typed, onType }: Props) {
  const { rows } = useSolution();
  const { choose } = useChosen();
  const id = useId();
  const columns = table.columns.filter((column) => !column.hidden);
  const column = columns.find((each) => each.id === typed.column);
  const wrong = typed.value.trim() !== "" && filterOf(typed, columns) === undefined;
  const all = useMutation({
    mutationFn: async () => {
      const cases: number[] = [];
      for (let page = kept; ; page = await rows(table.id, cases.length, asked)) {
        cases.push(...page.rows.map((row) => Number(row.case)));
        if (cases.length >= kept.total || page.rows.length === 0) return cases;
      }
    },
    onSuccess: choose,
  });
  return (
    <fieldset className="screen-only flex flex-wrap items-center gap-x-2 gap-y-1">
      <legend className="sr-only">Which cases are shown</legend>
      <label htmlFor={`${id}-column`} className="text-muted">
        Only where
      </label>
      <select
        id={`${id}-column`}
        className="select select-sm w-auto bg-sheet"
        value={typed.column}
        onChange={(event) => onType({ ...typed, column: event.target.value, value: "" })}
      >
        {columns.map((each) => (
          <option key={each.id} value={each.id}>
            {each.label}
          </option>
        ))}
      </select>
      {column?.numeric ? (
        <select
          aria-label="How it stands to the value"
          className="select select-sm w-auto bg-sheet"
          value={typed.is}
          onChange={(event) => onType({ ...typed, is: event.target.value as Relation })}
        >
          {relations.map(([value, words]) => (
            <option key={value} value={value}>
              is {words}
            </option>
          ))}
        </select>
      ) : (
        <span>is</span>
      )}
      <input
        aria-label="Value"
        className="input input-sm w-24 bg-sheet aria-invalid:border-region"
        inputMode={column?.numeric ? "decimal" : "text"}
        aria-invalid={wrong}
        title={wrong ? "A number is needed here" : undefined}
        value={typed.value}
        onChange={(event) => onType({ ...typed, value: event.target.value })}
      />
      {asked.where && (
        <>
          <span role="status" className="tabular-nums">
            {kept.total} of {table.total}
          </span>
          {kept.total > 0 && (
            <button type="button" className="act" disabled={all.isPending} onClick={() => all.mutate()}>
              Choose {kept.total === 1 ? "it" : "them"}
            </button>
          )}
          <button type="button" className="act" onClick={() => onType({ ...typed, value: "" })}>
            Show all
          </button>
        </>
      )}
      {all.error && (
        <p role="alert" className="text-(--region-text)">
          {all.error.message}
        </p>
      )}
    </fieldset>
  );
}

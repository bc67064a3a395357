import { useQuery } from "@tanstack/react-query";
import { Printer } from "lucide-react";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { request } from "../api/client";
import type { PrintedTable } from "../api/types";
import { Message } from "../app/Message";
import { Shell } from "../app/Shell";
import { scrollable } from "../lib/scrollable";

const tables = [
  { id: "z", label: "z" },
  { id: "t", label: "t" },
  { id: "chi-square", label: "χ²" },
  { id: "f", label: "F" },
];

/** TablesPage is a printed table to look values up in: row and column light up, and none is pointed out. */
export function TablesPage() {
  const { table: id = "z" } = useParams();
  const [params] = useSearchParams();
  const area = params.get("area");
  const { data, error, refetch } = useQuery({
    queryKey: ["printed", id, area],
    queryFn: () => request<PrintedTable>("GET", `/api/printed/${id}${area ? `?area=${area}` : ""}`),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <Shell title="Printed tables">
      <div className="px-6 py-4 max-sm:px-3">
        <nav aria-label="Tables" className="screen-only flex flex-wrap items-center gap-2">
          {tables.map((table) => (
            <Link
              key={table.id}
              to={`/tables/${table.id}`}
              aria-current={table.id === id ? "page" : undefined}
              className={`btn btn-sm font-serif text-[1.1rem] italic ${table.id === id ? "btn-neutral" : ""}`}
            >
              {table.label}
            </Link>
          ))}
          {data?.areas.map((each) => (
            <Link
              key={each}
              to={`/tables/f?area=${each}`}
              aria-current={String(each) === (area ?? "0.05") ? "page" : undefined}
              className={`btn btn-sm ${String(each) === (area ?? "0.05") ? "btn-neutral" : ""}`}
            >
              area {each}
            </Link>
          ))}
          <button type="button" className="btn btn-sm ml-auto" onClick={() => print()}>
            <Printer size="1.1em" aria-hidden="true" />
            Print
          </button>
        </nav>
        {error ? (
          <Message title="There is no such table." says={error.message} retry={() => refetch()} />
        ) : data ? (
          <TableOf key={data.title} table={data} />
        ) : (
          <p className="py-8 text-muted" role="status">
            Fetching the table …
          </p>
        )}
      </div>
    </Shell>
  );
}

function TableOf({ table }: { table: PrintedTable }) {
  const [at, setAt] = useState<[number, number] | null>(null);
  const padding = table.columns.length > 12 ? "px-1.5" : "px-2.5";
  const lit = (row: number, column: number) =>
    at && row === at[0] && column === at[1]
      ? "bg-ink text-base-100"
      : at && (row === at[0] || column === at[1])
        ? "bg-base-300"
        : "";
  return (
    <>
      <h1 className="mt-4 font-semibold font-serif text-[1.35rem]">{table.says}</h1>
      <p className="text-muted">
        Rows: {table.corner === "below" ? "degrees of freedom below" : table.corner}. Columns: {table.over}.
      </p>
      <section ref={scrollable} aria-label={table.title} className="mt-3 overflow-x-auto">
        <table className="printed-table tabular-nums" onMouseLeave={() => setAt(null)}>
          <thead>
            <tr className="border-ink border-b">
              <th scope="col" className="px-2 py-1 text-left font-normal text-muted">
                {table.corner}
              </th>
              {table.columns.map((name, j) => (
                <th
                  key={name}
                  scope="col"
                  className={`${padding} py-1 text-right font-semibold ${at?.[1] === j ? "bg-base-300" : ""}`}
                >
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.rows.map((row, i) => (
              <tr key={row.name} className={i % 5 === 4 ? "border-base-300 border-b" : ""}>
                <th scope="row" className={`px-2 text-left font-semibold ${at?.[0] === i ? "bg-base-300" : ""}`}>
                  {row.name}
                </th>
                {row.cells.map((cell, j) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its place in the row
                  <td key={j} className={`${padding} text-right ${lit(i, j)}`} onMouseEnter={() => setAt([i, j])}>
                    {cell}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </>
  );
}

import { useQuery } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { Link, useParams } from "react-router";
import type { KeysOfProblem, KeysView } from "../api/types";
import { Fetched } from "../app/Fetched";
import { Shell } from "../app/Shell";
import { scrollable } from "../lib/scrollable";
import { keysQuery } from "./queries";

/** KeysPage has what is right with everybody's numbers: a table for each problem of a set, a row for each student. */
export function KeysPage() {
  const { id = "" } = useParams();
  return (
    <Fetched title="Keys" what="right answers" fetched={useQuery(keysQuery(id))}>
      {(keys) => <Loaded set={id} keys={keys} />}
    </Fetched>
  );
}

function Loaded({ set, keys }: { set: string; keys: KeysView }) {
  return (
    <Shell title="Keys">
      <div className="w-full flex-1 px-[1.5rem] py-9 max-sm:px-3 max-sm:py-6">
        <Link to={`/sets/${set}/edit`} className="inline-block min-h-[24px] py-0.5 text-muted hover:text-ink">
          Back to the set
        </Link>
        <h1 className="font-semibold font-serif text-[2rem] leading-tight">What is right, with everybody’s numbers</h1>
        <p className="mt-3 flex flex-wrap gap-3">
          {["csv", "ods"].map((format) => (
            <a key={format} href={`/api/sets/${set}/keys?format=${format}`} download className="btn btn-sm">
              <Download size="1.1em" aria-hidden="true" />
              {format.toUpperCase()}
            </a>
          ))}
        </p>
        {keys.problems.length === 0 && <p className="mt-6 text-muted">No problem is in the set yet.</p>}
        {keys.problems.map((problem) => (
          <OfProblem key={problem.id} set={set} problem={problem} />
        ))}
      </div>
    </Shell>
  );
}

/** everybody is whose numbers are everybody's. */
const everybody = "00000000-0000-0000-0000-000000000000";

function OfProblem({ set, problem }: { set: string; problem: KeysOfProblem }) {
  return (
    <section className="mt-8" aria-label={problem.title}>
      <h2 className="font-semibold font-serif text-[1.25rem]">{problem.title}</h2>
      {problem.rows.length === 0 ? (
        <p className="mt-1 text-muted">Nobody is on the roster yet.</p>
      ) : (
        <section ref={scrollable} className="mt-2 overflow-x-auto" aria-label={`Right answers: ${problem.title}`}>
          <table className="border-separate border-spacing-0 [&_td]:border-base-300 [&_td]:border-b [&_th]:border-base-300 [&_th]:border-b text-[0.95rem] tabular-nums">
            <thead className="text-muted">
              <tr className="align-bottom">
                <th scope="col" className="sticky left-0 bg-base-100 py-1.5 pr-6 text-left font-normal">
                  student
                </th>
                {problem.asks.map((ask) => (
                  <th key={ask.id} scope="col" className="min-w-24 py-1.5 pr-6 text-left font-normal">
                    {ask.label}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {problem.rows.map((row) => (
                <tr key={row.student} className="align-top">
                  <th
                    scope="row"
                    className="sticky left-0 whitespace-nowrap bg-base-100 py-1.5 pr-6 text-left font-normal"
                  >
                    {row.student === everybody ? (
                      row.name
                    ) : (
                      <Link
                        to={`/sets/${set}/attempts/${problem.id}/${row.student}?mode=read`}
                        title="The worked solution with these numbers"
                        className="act"
                      >
                        {row.name}
                      </Link>
                    )}
                  </th>
                  {problem.asks.map((ask, i) => (
                    <td key={ask.id} className="py-1.5 pr-6">
                      <div className="w-max max-w-[34rem]">{row.right[i]}</div>
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </section>
  );
}

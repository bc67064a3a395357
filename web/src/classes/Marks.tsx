import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, Printer } from "lucide-react";
import { Fragment, useEffect, useMemo, useState } from "react";
import { Link } from "react-router";
import type { MarksRow } from "../api/types";
import { Mistake } from "../app/Mistake";
import { printPaper, usePaper } from "../lib/paper";
import { scrollable } from "../lib/scrollable";
import { points } from "./points";
import { marksQuery } from "./queries";

/** Marks are what each student's work on a set brought; at is when the class went on last. */
export function Marks({ set, at }: { set: string; at: string }) {
  const client = useQueryClient();
  const { data, error } = useQuery(marksQuery(set));
  const [paper] = usePaper();
  const [by, setBy] = useState<"name" | "points">("name");
  const [opened, setOpened] = useState(""); // the problem whose asks have columns
  // biome-ignore lint/correctness/useExhaustiveDependencies: whenever the class goes on
  useEffect(() => {
    client.invalidateQueries({ queryKey: marksQuery(set).queryKey });
  }, [client, set, at]);
  const rows = useMemo(() => {
    const all = [...(data?.rows ?? [])];
    return by === "points" ? all.sort((a, b) => b.points - a.points) : all;
  }, [data, by]);
  if (error) return <Mistake error={error} />;
  if (!data)
    return (
      <p className="text-muted" role="status">
        Adding up …
      </p>
    );
  const head = (name: string, of: typeof by) => (
    <button
      type="button"
      className={`cursor-pointer hover:text-ink ${by === of ? "font-semibold text-ink" : ""}`}
      onClick={() => setBy(of)}
    >
      {name}
    </button>
  );
  return (
    <div>
      <p className="flex flex-wrap gap-x-5 gap-y-2">
        {["csv", "ods"].map((format) => (
          <a key={format} href={`/api/sets/${set}/marks?format=${format}`} download className="btn btn-sm">
            <Download size="1.1em" aria-hidden="true" />
            {format.toUpperCase()}
          </a>
        ))}
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => printPaper(`/api/sets/${set}/marks/paper?size=${paper.size}`)}
        >
          <Printer size="1.1em" aria-hidden="true" />
          Print a page for each
        </button>
      </p>
      <section ref={scrollable} className="mt-4 overflow-x-auto" aria-label="Marks of each student">
        <table
          className="border-separate border-spacing-0 [&_td]:border-base-300 [&_td]:border-b [&_th]:border-base-300 [&_th]:border-b tabular-nums"
          aria-label="Marks"
        >
          <thead className="text-muted">
            <tr>
              <th
                scope="col"
                className="sticky left-0 bg-base-100 py-1.5 pr-8 text-left align-bottom font-normal"
                aria-sort={by === "name" ? "ascending" : "none"}
              >
                {head("student", "name")}
              </th>
              <th
                scope="col"
                className="whitespace-nowrap px-4 py-1.5 text-right align-bottom font-normal"
                aria-sort={by === "points" ? "descending" : "none"}
              >
                {head(`points of ${points(data.of)}`, "points")}
              </th>
              {data.problems.map((problem, i) => (
                <Fragment key={problem.id}>
                  <th scope="col" className="max-w-44 px-4 py-1.5 text-right align-bottom font-normal">
                    <button
                      type="button"
                      className="block w-full cursor-pointer truncate text-right hover:text-ink"
                      aria-expanded={opened === problem.id}
                      title={`${problem.title}: ask by ask`}
                      onClick={() => setOpened(opened === problem.id ? "" : problem.id)}
                    >
                      {i + 1}. {problem.title}
                    </button>
                  </th>
                  {opened === problem.id &&
                    problem.asks.map((ask) => (
                      <th
                        key={ask.id}
                        scope="col"
                        className="min-w-20 max-w-36 px-2 py-1.5 text-right align-bottom font-normal text-[0.85rem]"
                      >
                        {ask.label}
                      </th>
                    ))}
                </Fragment>
              ))}
              <th scope="col" className="whitespace-nowrap px-4 py-1.5 text-left align-bottom font-normal">
                handed in
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <StudentRow
                key={row.student.id}
                row={row}
                set={set}
                problems={data.problems.map((each) => each.id)}
                opened={opened}
              />
            ))}
          </tbody>
        </table>
      </section>
    </div>
  );
}

interface StudentRowProps {
  row: MarksRow;
  set: string;
  problems: string[];
  opened: string;
}

function StudentRow({ row, set, problems, opened }: StudentRowProps) {
  return (
    <tr>
      <th scope="row" className="sticky left-0 whitespace-nowrap bg-base-100 py-1.5 pr-8 text-left font-normal">
        <a
          href={`/api/sets/${set}/marks/paper?person=${row.student.id}`}
          target="_blank"
          rel="noreferrer"
          title="The page of marks to give back"
          className="hover:text-primary hover:underline"
        >
          {row.student.name}
        </a>
      </th>
      <td className="px-4 text-right font-semibold">{points(row.points)}</td>
      {row.problems.map((marks, i) => (
        <Fragment key={problems[i]}>
          <td className="px-4 text-right">
            {marks.attempt ? (
              <Link to={`/sets/${set}/attempts/${problems[i]}/${row.student.id}`} className="act">
                {points(marks.points)}
                {marks.asks.some((ask) => ask.by_hand) ? "*" : ""}
              </Link>
            ) : (
              <span className="text-muted">–</span>
            )}
          </td>
          {opened === problems[i] &&
            marks.asks.map((ask) => (
              <td key={ask.ask} className="px-2 text-right text-[0.92rem]">
                {marks.attempt ? points(ask.points) : ""}
                {ask.by_hand ? "*" : ""}
              </td>
            ))}
        </Fragment>
      ))}
      <td className="px-4 text-muted">
        {row.student.handed_in
          ? new Date(row.student.handed_in).toLocaleString("en-GB", { dateStyle: "short", timeStyle: "short" })
          : ""}
        {row.late && <span className="text-(--region-text)"> late</span>}
      </td>
    </tr>
  );
}

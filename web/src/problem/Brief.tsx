import { Link } from "react-router";
import type { Column, Problem, Table } from "../api/types";
import { ControlView } from "../blocks/ControlView";
import { lettersOf, visible } from "../blocks/cells";
import { NumberButton } from "../blocks/Number";
import { TextView } from "../blocks/Prose";
import { Markdown } from "../lib/Markdown";
import { upperFirst } from "../lib/words";
import { useActions } from "../solution/actions";
import { useCurrent } from "../solution/current";
import { findTable, useSolution } from "../solution/solution";

/** How many letters stand beside each other in the left column. */
const room = 24;

/** columnsThatFit returns the first columns of a table, up to four: the step on the data has all. */
function columnsThatFit(table: Table): { column: Column; j: number }[] {
  const columns = table.columns.map((column, j) => ({ column, j })).filter(({ column }) => visible(column));
  let letters = 0;
  return columns.slice(0, 4).filter(({ j }) => {
    letters += lettersOf(table, j) + 0.7;
    return letters <= room;
  });
}

/** Brief is the left column: the question, what is compared, and the data in short, once the step on them is shown. */
export function Brief({ problem, shown }: { problem: Pick<Problem, "id" | "shared" | "draft">; shown: number }) {
  const { solution } = useSolution();
  const current = useCurrent();
  const { change } = useActions();
  const toData = solution.steps.slice(0, shown).some((step) => step.id === "data");
  const groups = toData ? findTable(solution, "groups") : undefined;
  const few = groups ? columnsThatFit(groups) : [];
  const { given, left_out: leftOut } = solution.cases;
  const claim = problem.draft?.claim;
  const byHand = leftOut > 0 && ((current("/leave_out") as unknown[] | null)?.length ?? 0) > 0;
  return (
    <aside
      aria-label="The problem"
      className="border-base-300 bg-base-200 px-[1.55rem] py-6 max-xl:col-span-full max-xl:border-b max-sm:px-4 xl:sticky xl:top-[3.1rem] xl:h-[calc(100dvh-3.1rem)] xl:overflow-y-auto xl:border-r"
    >
      <h1 className="font-semibold font-serif text-[1.4rem] leading-tight">
        {problem.draft?.title || "Untitled problem"}
      </h1>
      <div className="mt-3 font-serif text-[1.16rem] leading-[1.4]">
        <Markdown text={solution.question ?? problem.draft?.question ?? ""} />
      </div>
      {claim?.text && (
        <figure className="mt-3 border-primary border-l-2 pl-3">
          <blockquote className="font-serif text-[1.1rem] italic leading-snug">“{claim.text}”</blockquote>
          <figcaption className="text-[0.9rem] text-muted">
            {claim.population ? `A claim about ${claim.population}` : "A claim"}
          </figcaption>
        </figure>
      )}
      <div className="mt-4 border-base-300 border-t pt-4 max-xl:grid max-xl:gap-x-10 max-xl:sm:grid-cols-2">
        <div>
          <p>
            <TextView text={solution.brief} />
          </p>
          {solution.test && (
            <p className="mt-1 text-muted" data-testid="test-name">
              {upperFirst(solution.test)}
            </p>
          )}
          {solution.controls
            .filter((control) => control.beside === "brief")
            .map((control) => (
              <ControlView key={control.id} control={control} stacked />
            ))}
        </div>
        <div>
          {groups && (
            <table className="mt-4 w-full tabular-nums max-xl:mt-0" aria-label={groups.title}>
              <thead className="text-muted">
                <tr className="border-base-300 border-b">
                  {few.map(({ column }) => (
                    <th
                      key={column.id}
                      scope="col"
                      className={`py-1.5 pl-1.5 font-normal first:pl-0 ${column.numeric ? "text-right" : "text-left"}`}
                    >
                      {column.label}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {groups.rows.map((row, i) => (
                  <tr key={String(row.group)} className="border-base-300 border-b last:border-0">
                    {few.map(({ column, j }) => {
                      const ref = groups.refs?.[i]?.[j];
                      const text = groups.shown[i]?.[j] ?? "";
                      return (
                        <td
                          key={column.id}
                          className={`py-1.5 pl-1.5 first:pl-0 ${column.numeric ? "text-right" : "break-words text-left"}`}
                        >
                          {ref ? <NumberButton id={ref} words={text} /> : text}
                        </td>
                      );
                    })}
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <p className={`mt-3 text-muted ${toData && given > 0 ? "" : "hidden"}`}>
            {given} {given === 1 ? "case" : "cases"}, {leftOut === 0 ? "none left out" : `${leftOut} left out`}.
            {!problem.shared && (
              <>
                {" "}
                <Link to={`/problems/${problem.id}/edit`} className="act">
                  See the data
                </Link>
              </>
            )}
            {byHand && (
              <>
                {" "}
                <button
                  type="button"
                  className="act"
                  onClick={() => change([{ pointer: "/leave_out", value: null }], "cases put back in")}
                >
                  Put them back in
                </button>
              </>
            )}
          </p>
        </div>
      </div>
    </aside>
  );
}

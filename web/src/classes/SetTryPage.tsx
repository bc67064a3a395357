import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { request } from "../api/client";
import type { Item, RemarkView, SetProblem, SetSolution, Table } from "../api/types";
import { Fetched } from "../app/Fetched";
import { Shell } from "../app/Shell";
import { inNumerals } from "../lib/numerals";
import { useNumerals } from "../lib/useNumerals";
import { Brief } from "../problem/Brief";
import { Reading } from "../problem/Reading";
import { quantitiesOf, type SolutionView } from "../solution/solution";
import { Try } from "../try/Try";
import { setWire } from "../try/wires";
import { setProblemQuery } from "./queries";

/** SetTryPage is a problem of a set: it is worked in Try, and read once that may be. */
export function SetTryPage() {
  const { set = "", problem = "" } = useParams();
  return (
    <Fetched title="Problem" what="problem" fetched={useQuery(setProblemQuery(problem))}>
      {(of) => <Loaded key={of.id} of={of} set={set} />}
    </Fetched>
  );
}

function Loaded({ of, set }: { of: SetProblem; set: string }) {
  const [params, setParams] = useSearchParams();
  const client = useQueryClient();
  const reads = of.solution && params.get("mode") === "read";
  const wire = useMemo(() => setWire(of.id), [of.id]);
  // How far one has come is read anew on the page of the set.
  useEffect(() => () => void client.invalidateQueries({ queryKey: ["sets", set, "work"] }), [client, set]);
  const aside = useCallback((item: Item) => <Remark remark={of.remarks.find((each) => each.ask === item.id)} />, [of]);
  const problem = useMemo(() => ({ id: of.id, shared: true, draft: of.draft }), [of]);
  return (
    <Shell
      title={of.draft?.title || "Untitled problem"}
      tools={
        <span className="flex items-center gap-4">
          {of.solution && (
            <button type="button" className="act" onClick={() => setParams(reads ? {} : { mode: "read" })}>
              {reads ? "Your work" : "The solution"}
            </button>
          )}
          <Link to={`/sets/${set}`} className="act">
            {of.set_title || "The set"}
          </Link>
        </span>
      }
    >
      {of.handed_in && !reads && (
        <p className="screen-only border-base-300 border-b bg-base-200 px-[1.5rem] py-1.5 text-[0.95rem] max-sm:px-3">
          <span className="text-muted">This set is handed in. To answer more, take it back on its page.</span>
        </p>
      )}
      {reads ? (
        <SolutionOf of={of} />
      ) : (
        <Try
          problem={problem}
          wire={wire}
          fixed={of.handed_in}
          aside={aside}
          onRead={of.solution ? () => setParams({ mode: "read" }) : undefined}
        />
      )}
    </Shell>
  );
}

/** Remark is what the instructor wrote at an ask. */
function Remark({ remark }: { remark: RemarkView | undefined }) {
  if (!remark?.words) return null;
  return (
    <p className="border-primary border-l-2 pl-3" data-remark={remark.ask}>
      <span className="text-[0.9rem] text-muted">Your instructor: </span>
      {remark.words}
    </p>
  );
}

/** SolutionOf is the worked solution of a problem of a set, as somebody gets it. */
export function SolutionOf({ of, person = "" }: { of: SetProblem; person?: string }) {
  const numerals = useNumerals();
  const path = `/api/set-problems/${of.id}/work${person && `?person=${person}`}`;
  const { data, error } = useQuery({
    queryKey: ["set-solution", of.id, person],
    queryFn: () => request<SetSolution>("POST", path, {}),
  });
  const view = useMemo<SolutionView | undefined>(() => {
    if (!data?.solution) return undefined;
    const solution = inNumerals(data.solution, numerals);
    return {
      solution,
      quantities: quantitiesOf(solution),
      rows: (table, from) => request<Table>("POST", path, { table, from }).then((page) => inNumerals(page, numerals)),
    };
  }, [data, numerals, path]);
  if (!view)
    return (
      <p className={`p-8 ${error ? "text-(--region-text)" : "text-muted"}`} role={error ? "alert" : "status"}>
        {error ? error.message : "Working the problem …"}
      </p>
    );
  return (
    <Reading view={view}>
      <Brief problem={{ id: of.id, shared: true, draft: of.draft }} shown={view.solution.steps.length} />
    </Reading>
  );
}

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { type RequestError, request } from "../api/client";
import type { SetView, VariantView } from "../api/types";
import { Dialog } from "../app/Dialog";
import { Mistake } from "../app/Mistake";
import { useToast } from "../app/toasts";
import { variantsQuery } from "./queries";

/** How near to alpha p may lie, as a share of it, before a row is marked, and how small an expected count may be. */
const near = 0.2;
const fewest = 5;

const shown = (x: number | null, digits: number) => (x === null ? "–" : x.toFixed(digits));

/** doubts say what an instructor should look at in somebody's numbers. */
const doubts = (row: VariantView): string[] => [
  ...(row.trouble ? [row.trouble] : []),
  ...(row.margin !== null && row.margin < near ? ["p lies near alpha"] : []),
  ...(row.smallest_expected !== null && row.smallest_expected < fewest ? ["an expected count below 5"] : []),
];

/** Variants check what everybody's numbers come to, before a set is handed out. */
export function Variants({ set, onClose }: { set: SetView; onClose: () => void }) {
  const client = useQueryClient();
  const toast = useToast();
  const { data, error, isFetching } = useQuery(variantsQuery(set.id, set.version));
  const draw = useMutation({
    mutationFn: (body: { student: string; begun?: boolean }) => request("POST", `/api/sets/${set.id}/draw`, body),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: ["sets", set.id, "variants"] });
      toast({ says: "Other numbers are drawn." });
    },
    onError: (failure: RequestError, body) => {
      const begun = failure.mistakes?.some((each) => each.pointer === "/begun");
      toast({
        says: failure.message,
        bad: true,
        action: begun ? { label: "Draw, and let it go", act: () => draw.mutate({ ...body, begun: true }) } : undefined,
      });
    },
  });
  return (
    <Dialog title="Everybody’s numbers" onClose={onClose} wide>
      <p>
        <Link to={`/sets/${set.id}/keys`} className="act">
          All right answers
        </Link>
      </p>
      <Mistake error={error} />
      {!data && !error && (
        <p role="status">
          Working each problem for everybody on the roster … <progress className="progress w-40" />
        </p>
      )}
      {data?.problems.map((problem) => (
        <section key={problem.id} className="mt-4" aria-busy={isFetching}>
          <h3 className="font-semibold">{problem.title}</h3>
          {problem.rows.length === 0 ? (
            <p className="text-muted">Nobody is on the roster yet.</p>
          ) : (
            <table className="mt-1 w-full tabular-nums">
              <thead className="text-muted">
                <tr className="border-base-300 border-b">
                  <th scope="col" className="py-1 text-left font-normal">
                    student
                  </th>
                  <th scope="col" className="text-left font-normal">
                    decision
                  </th>
                  <th scope="col" className="text-right font-normal">
                    p
                  </th>
                  <th scope="col" className="text-right font-normal">
                    smallest expected
                  </th>
                  <th scope="col" className="pl-4 text-left font-normal">
                    look at
                  </th>
                  <th>
                    <span className="sr-only">other numbers</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {problem.rows.map((row) => (
                  <tr key={row.student} className="border-base-300 border-b">
                    <td className="py-1">
                      <Link
                        to={`/sets/${set.id}/attempts/${problem.id}/${row.student}?mode=read`}
                        title="The worked solution with these numbers"
                        className="act"
                      >
                        {row.name}
                      </Link>
                    </td>
                    <td>{row.reject === null ? "–" : row.reject ? "reject" : "do not reject"}</td>
                    <td className="text-right">{shown(row.p, 4)}</td>
                    <td className="text-right">{shown(row.smallest_expected, 1)}</td>
                    <td className="pl-4 text-(--expected-text)">{doubts(row).join("; ")}</td>
                    <td className="text-right">
                      <button
                        type="button"
                        className="act text-[0.92rem]"
                        onClick={() => draw.mutate({ student: row.student })}
                      >
                        draw others
                      </button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </section>
      ))}
    </Dialog>
  );
}

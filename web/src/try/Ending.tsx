import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { request } from "../api/client";
import { pathOf } from "../api/queries";
import type { Problem, Summary, VaryRequest } from "../api/types";

interface Props {
  problem: Pick<Problem, "id" | "shared">;
  summary: Summary;
  of: number;
  onRead?: () => void;
  onAnew?: () => void;
}

/** Ending says how the attempt went: what was right at first go, which slips were made, where help was taken. */
export function Ending({ problem, summary, of, onRead, onAnew }: Props) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const vary = useMutation({
    mutationFn: (body: VaryRequest) => request<Problem>("POST", `${pathOf(problem)}/vary`, body),
    onSuccess: (other) => {
      client.invalidateQueries({ queryKey: ["problems"] });
      navigate(`/problems/${other.id}?mode=try`);
    },
  });
  return (
    <section
      data-ending
      aria-label="How it went"
      className="mt-6 ml-[16.4rem] max-w-[46rem] scroll-mt-20 rounded-box border-[1.5px] border-ink bg-sheet px-5 py-4 max-sm:ml-0"
    >
      <h2 className="font-semibold font-serif text-[1.35rem]">
        {summary.first_go} of {of} right at first go
      </h2>
      <p className="mt-0.5 text-muted">
        {summary.right} right in the end{summary.shown > 0 ? `, ${summary.shown} given up` : ""}.
      </p>
      {summary.slips.length > 0 && (
        <>
          <h3 className="mt-3 font-semibold">Slips</h3>
          <ul className="mt-1 grid gap-1.5">
            {summary.slips.map((slip) => (
              <li key={slip.slip} data-slip={slip.slip}>
                <span className="font-semibold">{slip.asked.join(", ")}:</span> {slip.says}
              </li>
            ))}
          </ul>
        </>
      )}
      {summary.helped.length > 0 && (
        <p className="mt-3">
          <span className="font-semibold">Help was taken for</span> {summary.helped.join(", ")}.
        </p>
      )}
      <div className="mt-4 flex flex-wrap gap-2">
        {onRead && (
          <button type="button" className="btn btn-primary btn-sm" onClick={onRead}>
            Read the solution
          </button>
        )}
        {onAnew && (
          <button type="button" className="btn btn-sm" onClick={onAnew}>
            Work it again
          </button>
        )}
        {!problem.shared && (
          <button
            type="button"
            className="btn btn-sm"
            disabled={vary.isPending}
            onClick={() => vary.mutate({ seed: Math.floor(Math.random() * 1e9) })}
          >
            {vary.isPending ? "Drawing a sample …" : "Try again with other numbers"}
          </button>
        )}
      </div>
      {vary.error && (
        <p role="alert" className="mt-2 text-(--region-text)">
          {vary.error.message}
        </p>
      )}
    </section>
  );
}

import { useQuery } from "@tanstack/react-query";
import { workQuery } from "../api/queries";
import type { Action, Problem, ProblemSet, Solution } from "../api/types";
import { Dialog } from "../app/Dialog";
import { Symbols } from "../blocks/Symbols";
import { CurveFigure } from "../figures/CurveFigure";
import { useInNumerals } from "../lib/useNumerals";
import { findFigure, setsOf, useSolution } from "../solution/solution";

interface Props {
  problem: Problem;
  /** The settings that are changed in the present solution. */
  set: ProblemSet[];
  /** How many steps are shown, 0 for all. */
  steps: number;
  action: Action;
  onTake: () => void;
  onClose: () => void;
}

/** Comparison puts another solution of the same data beside the present one, key result by key result. */
export function Comparison({ problem, set, steps, action, onTake, onClose }: Props) {
  const { solution } = useSolution();
  const { data: worked, error } = useQuery({
    ...workQuery(problem, [...set, ...setsOf(action)], steps),
    placeholderData: undefined, // the other solution is not the present one
  });
  const other = useInNumerals(worked?.solution);
  const names = action.procedure
    ? [solution.title, other?.title ?? ""]
    : [present(solution, action), wanted(solution, action)];
  return (
    <Dialog title="Side by side" onClose={onClose} wide>
      {error && (
        <p role="alert" className="text-(--region-text)">
          {error.message}
        </p>
      )}
      {!other && !error && <p role="status">Working it the other way …</p>}
      {other && (
        <>
          <div className="grid gap-6 sm:grid-cols-2">
            {[solution, other].map((each, i) => (
              <Side key={names[i]} name={names[i] ?? ""} solution={each} />
            ))}
          </div>
          <table className="mt-5 w-full" data-testid="comparison">
            <thead className="sr-only">
              <tr>
                <th scope="col">Step</th>
                <th scope="col">{names[0]}</th>
                <th scope="col">{names[1]}</th>
              </tr>
            </thead>
            <tbody>
              {solution.steps.map((step) => {
                const theirs = other.steps.find((each) => each.id === step.id)?.key ?? "";
                if (step.key === "" && theirs === "") return null;
                const differs = step.key !== theirs;
                return (
                  <tr key={step.id} className="border-base-300 border-t">
                    <th scope="row" className="py-1 pr-4 text-left font-normal text-muted">
                      {step.title}
                    </th>
                    {[step.key, theirs].map((key, side) => (
                      <td
                        key={names[side]}
                        className={`py-1 pr-4 font-serif text-[1.1rem] ${differs ? "font-semibold" : "text-muted"}`}
                      >
                        <Symbols text={key} />
                      </td>
                    ))}
                  </tr>
                );
              })}
            </tbody>
          </table>
          <p className="mt-3 text-muted">
            The same data and the same question; what differs is set in bold. Choose the form by its conditions, before
            looking at which one rejects.
          </p>
        </>
      )}
      <div className="sticky bottom-0 -mx-6 -mb-6 flex flex-wrap justify-end gap-3 border-base-300 border-t bg-base-100 px-6 py-3 max-sm:-mx-4 max-sm:-mb-4 max-sm:px-4">
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Stay with the present one
        </button>
        <button type="button" className="btn btn-primary btn-sm" disabled={!other} onClick={onTake}>
          Take the other one
        </button>
      </div>
    </Dialog>
  );
}

function Side({ name, solution }: { name: string; solution: Solution }) {
  const curve = findFigure(solution, "curve");
  return (
    <div>
      <h3 className="font-semibold">{name}</h3>
      {curve && (
        <svg viewBox="0 0 384 150" className="h-auto w-full font-sans" role="img" aria-label={curve.says}>
          <CurveFigure figure={curve} width={384} height={150} onOpen={() => {}} />
        </svg>
      )}
      {!curve && !solution.held_back && (
        <p className="py-4 text-muted">No curve: its p-value is counted, and decides alone.</p>
      )}
      {solution.decision && (
        <p className="font-semibold font-serif text-[1.25rem]">
          {solution.decision.reject ? "Reject H₀" : "Do not reject H₀"}
        </p>
      )}
    </div>
  );
}

/** present names the side that is there now by the choice that the action would change. */
function present(solution: Solution, action: Action): string {
  return choiceLabel(solution, action, (control) => control.value) ?? "The present solution";
}

/** wanted names the other side by the choice that the action takes. */
function wanted(solution: Solution, action: Action): string {
  return choiceLabel(solution, action, () => action.set?.[0]?.value) ?? action.label.replace(/ and compare$/, "");
}

function choiceLabel(solution: Solution, action: Action, value: (control: Solution["controls"][number]) => unknown) {
  const control = solution.controls.find((each) => each.pointer === action.set?.[0]?.pointer);
  const choice = control?.choices.find((each) => each.value === value(control));
  return control && choice ? `${control.label} ${choice.label}` : undefined;
}

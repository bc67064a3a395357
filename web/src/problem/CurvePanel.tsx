import { ControlView } from "../blocks/ControlView";
import { VerdictView } from "../blocks/Verdict";
import { FigureView } from "../figures/FigureView";
import { useFigureUnits } from "../solution/projected";
import { controlsAt, findFigure, useSolution } from "../solution/solution";
import { Decimals } from "./Decimals";
import type { Mode } from "./mode";

interface Props {
  shown: number;
  mode: Mode;
  projector?: boolean;
  /** Whether it stands under the steps, and goes with them. */
  under?: boolean;
}

/**
 * CurvePanel stays in view: the curve, under it what moves it, and the decision.
 * While steps are still covered it shows no more than they do; on the projector it is the curve and what moves it.
 */
export function CurvePanel({ shown, mode, projector = false, under = false }: Props) {
  const { solution } = useSolution();
  const width = useFigureUnits();
  const steps = solution.steps.slice(0, shown);
  const reached = (id: string) => steps.some((step) => step.id === id);
  const curve = findFigure(solution, "curve");
  const interval = findFigure(solution, "interval");
  const decision = steps.find((step) => step.id === "decision");
  const verdicts = decision?.blocks.filter((block) => block.kind === "verdict") ?? [];
  // The curve shows what its solution's steps have found, which may be more until the one up to this step is there.
  const covered = shown < solution.steps.length;
  return (
    <aside
      aria-label="The curve and the decision"
      className={`border-base-300 py-3 max-lg:border-t max-sm:px-4 ${
        under ? "" : "lg:sticky lg:top-(--bar) lg:overflow-y-auto lg:border-l"
      } ${projector ? "px-[1rem]" : "px-[1.5rem]"} ${
        under ? "" : mode === "reveal" ? "lg:h-[calc(100dvh-var(--bar)-var(--foot))]" : "lg:h-[calc(100dvh-var(--bar))]" // above the bar of Reveal
      }`}
    >
      {curve && reached("hypotheses") && !covered && (
        <>
          <div className="flex flex-wrap items-baseline justify-between gap-x-3">
            <h2 className="font-semibold">{curve.title}</h2>
            <span className="text-right text-muted">{curve.marks.find((mark) => mark.shape === "line")?.label}</span>
          </div>
          <FigureView figure={curve} width={width ?? 384} />
        </>
      )}
      <div className={`grid gap-2 ${curve ? "mt-1 border-base-300 border-t pt-3" : ""}`}>
        {controlsAt(solution, shown)
          .filter((control) => control.beside === "curve")
          .map((control) => (
            <ControlView key={control.id} control={control} />
          ))}
      </div>
      {!projector && reached("decision") && solution.decision && (
        <div className="mt-3 grid grid-cols-2 gap-2.5" data-testid="verdicts">
          {verdicts.map((block) => (
            <VerdictView key={block.rule} block={block} />
          ))}
        </div>
      )}
      {!projector && reached("conclusion") && solution.decision && (
        <div
          className="mt-3 rounded-box border-[1.5px] border-ink bg-sheet px-3.5 py-2.5"
          aria-live="polite"
          data-testid="decision"
        >
          <p className="font-semibold font-serif text-[1.3rem]">
            {solution.decision.reject ? "Reject H₀" : "Do not reject H₀"}
          </p>
          <p className="font-serif text-[1.03rem] leading-snug">{solution.conclusion}</p>
        </div>
      )}
      {!projector && interval && reached("follow-up") && (
        <div className="mt-3 border-base-300 border-t pt-2.5">
          <div className="flex items-baseline justify-between gap-3">
            <h2 className="text-[0.95rem]">{interval.title}</h2>
            <span className="whitespace-nowrap text-right font-semibold">{interval.reads}</span>
          </div>
          <FigureView figure={interval} width={384} />
        </div>
      )}
      {!projector && <Decimals />}
    </aside>
  );
}

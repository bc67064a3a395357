import { useEffect, useRef } from "react";
import { Link } from "react-router";
import type { Block, Solution, Step } from "../api/types";
import { BlockView } from "../blocks/BlockView";
import { NumberButton } from "../blocks/Number";
import { StepMark } from "../blocks/StepMark";
import { Symbols } from "../blocks/Symbols";
import { KeepButton } from "../kept/KeepButton";
import { useMedia } from "../lib/useMedia";
import { findFigure, useSolution } from "../solution/solution";
import type { Mode } from "./mode";
import { useStepNotes } from "./NoteView";

/**
 * Thread is the solution read down a line: each step sits on it, and its key
 * result stands in the margin. The margin alone tells the solution. On the projector the step in hand is alone.
 */
export function Thread({ shown, mode, projector }: { shown: number; mode: Mode; projector: boolean }) {
  const { solution } = useSolution();
  const withMargin = useMedia("(min-width: 80rem)") && !projector;
  const hasNotes = solution.own_notes?.some((note) => !note.drawing) ?? false;
  const last = useRef<HTMLElement>(null);
  // In Reveal the step that was just uncovered comes into view, and stays there when the type grows.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the size of the type moves the steps
  useEffect(() => {
    if (mode !== "reveal") return;
    if (projector) {
      window.scrollTo(0, 0); // it is alone
      return;
    }
    const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    const tall = (last.current?.offsetHeight ?? 0) > innerHeight * 0.7;
    last.current?.scrollIntoView({ block: tall ? "start" : "center", behavior: still ? "auto" : "smooth" });
  }, [shown, mode, projector]);
  return (
    <section
      aria-label="The worked solution"
      style={{ "--margin": withMargin && hasNotes ? "11rem" : "7.6rem" } as React.CSSProperties}
      className="min-w-0 px-2 pt-1 pb-24 max-sm:px-3"
    >
      {solution.notes.map((note) => (
        <p key={note} role="note" className="mx-4 mt-3 max-w-[46rem] border-expected border-l-2 pl-3">
          {note}
        </p>
      ))}
      <ol className="relative">
        {solution.steps.slice(projector ? Math.max(0, shown - 1) : 0, shown).map((step) => {
          const i = solution.steps.indexOf(step);
          return (
            <StepView
              key={step.id}
              step={step}
              number={i + 1}
              inHand={mode === "reveal" && i === shown - 1}
              alone={projector}
              withMargin={withMargin}
              ref={i === shown - 1 ? last : undefined}
            />
          );
        })}
      </ol>
    </section>
  );
}

const small = (block: Block | undefined, solution: Solution): boolean =>
  block?.kind === "figure" && findFigure(solution, block.figure)?.small === true;

/** rowsOf returns the blocks one below the other, but small figures two by two. */
function rowsOf(blocks: Block[], solution: Solution): Block[][] {
  const rows: Block[][] = [];
  for (const block of blocks) {
    if (block.kind === "verdict") continue;
    const last = rows.at(-1);
    if (last?.length === 1 && small(last[0], solution) && small(block, solution)) last.push(block);
    else rows.push([block]);
  }
  return rows;
}

interface StepProps {
  step: Step;
  number: number;
  inHand: boolean;
  /** Whether it is the only one on the page: then its result stands over it, not in the margin. */
  alone: boolean;
  /** Whether there is room for notes in the margin. */
  withMargin: boolean;
  ref?: React.Ref<HTMLElement>;
}

function StepView({ step, number, inHand, alone, withMargin, ref }: StepProps) {
  const { pictures } = useSolution();
  const notes = useStepNotes(step.id, withMargin);
  const heading = `step-${step.id}`;
  return (
    <li
      ref={ref as React.Ref<HTMLLIElement>}
      aria-labelledby={heading}
      data-step={step.id}
      className={`group/step grid scroll-mt-[3.6rem] scroll-mb-24 ${alone ? "grid-cols-1 px-4" : "grid-cols-[var(--margin)_1.9rem_minmax(0,1fr)] max-sm:grid-cols-[1.9rem_minmax(0,1fr)]"}`}
    >
      <div className={`max-sm:hidden ${alone ? "order-2" : "pr-2.5"}`}>
        <div
          data-testid={`key-${step.id}`}
          className={`break-words font-semibold font-serif leading-tight ${inHand ? "text-primary" : ""} ${alone ? "pt-1 text-[1.7rem]" : "pt-[1.15rem] text-right text-[1.05rem]"}`}
        >
          {step.opens ? (
            <NumberButton id={step.opens} className="quiet">
              <Symbols text={step.key} />
            </NumberButton>
          ) : (
            <Symbols text={step.key} />
          )}
        </div>
        {withMargin && (
          <div data-margin="" className="mt-3 grid grid-cols-1 gap-2">
            {notes.margin}
          </div>
        )}
      </div>
      {!alone && <StepMark number={number} inHand={inHand} />}
      <div className={alone ? "contents" : "min-w-0 max-w-[46rem] pt-[1.1rem] pb-4 pl-3.5"}>
        <div className={`flex items-center gap-1.5 ${alone ? "order-1 pt-3" : ""}`}>
          <h2 id={heading} className={`font-semibold ${alone ? "text-[1.3rem]" : "text-[1.12rem]"}`}>
            {alone && <span className="mr-2.5 text-muted">{number}</span>}
            {step.title}
          </h2>
          <span className="-my-1 flex opacity-0 focus-within:opacity-100 group-hover/step:opacity-100 pointer-coarse:opacity-100">
            <KeepButton at={`step/${step.id}`} what={`the step “${step.title}”`} />
          </span>
        </div>
        <p className="font-semibold font-serif sm:hidden">
          <Symbols text={step.key} />
        </p>
        <div className={`grid grid-cols-1 gap-3 ${alone ? "order-3 mt-3" : "mt-1.5"}`}>
          <StepBlocks blocks={step.blocks} />
          {notes.text}
          {step.id === "look" && pictures && (
            <Link to={pictures} className="act screen-only w-fit">
              More pictures and numbers
            </Link>
          )}
        </div>
      </div>
    </li>
  );
}

/** StepBlocks are the blocks of a step: the two rules of the decision beside each other first, then one below the other. */
export function StepBlocks({ blocks }: { blocks: Block[] }) {
  const { solution } = useSolution();
  const verdicts = blocks.filter((block) => block.kind === "verdict");
  return (
    <>
      {verdicts.length > 0 && (
        <div className="grid grid-cols-2 gap-3">
          {verdicts.map((block) => (
            <BlockView key={block.rule} block={block} />
          ))}
        </div>
      )}
      {rowsOf(blocks, solution).map((row, i) =>
        row.length === 1 && !small(row[0], solution) ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: blocks have no name; a step's blocks keep their order
          <BlockView key={`${row[0]?.kind}${i}`} block={row[0] as Block} />
        ) : (
          // biome-ignore lint/suspicious/noArrayIndexKey: as above
          <div key={`row${i}`} className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
            {row.map((block, j) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: as above
              <BlockView key={j} block={block} small />
            ))}
          </div>
        ),
      )}
    </>
  );
}

import { ArrowLeft, ArrowRight, Projector } from "lucide-react";
import { type ReactNode, useLayoutEffect } from "react";
import { Timer } from "./Timer";

interface Props {
  shown: number;
  steps: number;
  onNext: () => void;
  onBack: () => void;
  projector: boolean;
  onProjector: () => void;
  /** The tools of the pen. */
  pen: ReactNode;
}

/** RevealBar uncovers the steps one by one, and sets the type larger for a projector. */
export function RevealBar({ shown, steps, onNext, onBack, projector, onProjector, pen }: Props) {
  // Before the thread scrolls to the step in hand, which the size of the type moves.
  useLayoutEffect(() => {
    document.documentElement.dataset.size = projector ? "projector" : "desk";
    return () => {
      document.documentElement.dataset.size = "desk";
    };
  }, [projector]);
  return (
    <div className="tools screen-only sticky bottom-0 z-10 flex items-center justify-center gap-3 border-base-300 border-t bg-base-200 px-4 py-2">
      <button type="button" className="btn btn-sm" disabled={shown === 1} onClick={onBack} title="One step back (←)">
        <ArrowLeft size="1.1em" aria-hidden="true" />
        Back
      </button>
      <span className="min-w-24 text-center text-muted" role="status">
        Step {shown} of {steps}
      </span>
      <button
        type="button"
        className="btn btn-primary btn-sm"
        disabled={shown === steps}
        onClick={onNext}
        title="Next step (→ or space)"
      >
        Next
        <ArrowRight size="1.1em" aria-hidden="true" />
      </button>
      <button
        type="button"
        aria-pressed={projector}
        className={`btn btn-sm ml-4 max-sm:hidden ${projector ? "btn-neutral" : ""}`}
        onClick={onProjector}
        title="Projector size (p)"
      >
        <Projector size="1.1em" aria-hidden="true" />
        Projector
      </button>
      <Timer />
      {pen}
    </div>
  );
}

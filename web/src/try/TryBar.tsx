import { Calculator, RotateCcw, Table2, Undo2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import type { TrySheet } from "../api/types";
import { Dialog } from "../app/Dialog";

interface Props {
  sheet: TrySheet;
  onUndo: () => void;
  onAnew?: () => void;
  /** Whether the answers are only looked at. */
  fixed: boolean;
  calculating: boolean;
  onCalculator: () => void;
}

/** TryBar says how far the person has come, takes the last answer back, and begins anew. */
export function TryBar({ sheet, onUndo, onAnew, fixed, calculating, onCalculator }: Props) {
  const [asking, setAsking] = useState(false);
  return (
    <div className="screen-only sticky bottom-0 z-10 flex flex-wrap items-center justify-center gap-3 border-base-300 border-t bg-base-200 px-4 py-2 max-sm:gap-2">
      <button type="button" className="btn btn-sm" disabled={!sheet.can_undo || fixed} onClick={onUndo} title="Ctrl+Z">
        <Undo2 size="1.1em" aria-hidden="true" />
        Undo
      </button>
      <span className="flex items-center gap-2.5 text-muted" role="status">
        <progress
          className="progress progress-primary w-40 max-sm:w-20"
          value={sheet.answered}
          max={sheet.of}
          aria-label="How far you have come"
        />
        {sheet.answered} of {sheet.of}
      </span>
      <button
        type="button"
        className={`btn btn-sm ${calculating ? "btn-neutral" : ""}`}
        aria-pressed={calculating}
        onClick={onCalculator}
        title="Calculator (c)"
      >
        <Calculator size="1.1em" aria-hidden="true" />
        <span className="max-sm:sr-only">Calculator</span>
      </button>
      <Link to="/tables" target="_blank" className="btn btn-sm" title="Printed tables, in a tab of their own">
        <Table2 size="1.1em" aria-hidden="true" />
        <span className="max-sm:sr-only">Tables</span>
      </Link>
      {onAnew && (
        <button
          type="button"
          className="btn btn-sm"
          disabled={sheet.events === 0}
          onClick={() => (sheet.summary ? onAnew() : setAsking(true))}
        >
          <RotateCcw size="1.1em" aria-hidden="true" />
          <span className="max-sm:sr-only">Begin anew</span>
        </button>
      )}
      {asking && onAnew && (
        <Dialog title="Begin anew?" onClose={() => setAsking(false)}>
          <p>Your {sheet.answered} answers are kept as an attempt that ended, and the fields are empty again.</p>
          <div className="mt-4 flex gap-2">
            <button
              type="button"
              className="btn btn-primary btn-sm"
              onClick={() => {
                setAsking(false);
                onAnew();
              }}
            >
              Begin anew
            </button>
            <button type="button" className="btn btn-sm" onClick={() => setAsking(false)}>
              Go on
            </button>
          </div>
        </Dialog>
      )}
    </div>
  );
}

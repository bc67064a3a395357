import { Check, CloudOff, LoaderCircle, Redo2, TriangleAlert, Undo2 } from "lucide-react";
import type { Keeping, Kept, Saving } from "../lib/keeping";

const states: Record<Saving, { icon: typeof Check; says: (what: string) => string }> = {
  kept: { icon: Check, says: () => "All of it is kept" },
  typing: { icon: LoaderCircle, says: () => "Keeping as you type …" },
  keeping: { icon: LoaderCircle, says: () => "Keeping …" },
  offline: {
    icon: CloudOff,
    says: () => "Grund does not answer. What you typed stays here and is sent when it is back.",
  },
  "signed-out": {
    icon: CloudOff,
    says: () => "You are signed out. What you typed stays here and is kept when you have signed in.",
  },
  refused: { icon: TriangleAlert, says: () => "This could not be kept." },
  conflict: {
    icon: TriangleAlert,
    says: (what) => `This ${what} was changed elsewhere. What you typed here is not lost.`,
  },
};

interface Props {
  // biome-ignore lint/suspicious/noExplicitAny: what is kept does not matter here
  kept: Kept<any, any> & { keeping: Keeping<any, any> };
}

/** SavedState says whether what is on the screen is kept, and offers both versions where it was changed elsewhere: in another tab, on another machine, by another instructor. */
export function SavedState({ kept, what }: Props & { what: string }) {
  const { saving, trouble, keeping } = kept;
  const state = states[saving];
  const bad = saving === "conflict" || saving === "offline" || saving === "signed-out" || saving === "refused";
  return (
    <div className="mt-4">
      <p className={`flex gap-2 ${bad ? "text-(--region-text)" : "text-muted"}`} role="status" data-testid="saving">
        <state.icon size="1.2em" className="mt-0.5 shrink-0" aria-hidden="true" />
        {state.says(what)}
        {saving === "refused" && ` ${trouble}`}
      </p>
      {saving === "conflict" && (
        <p className="mt-2 flex flex-wrap gap-2">
          <button type="button" className="btn btn-sm" onClick={keeping.keepMine}>
            Keep what I typed here
          </button>
          <button type="button" className="btn btn-sm" onClick={keeping.takeTheirs}>
            Show the other version
          </button>
        </p>
      )}
    </div>
  );
}

/** UndoRedo are the two buttons, named by what they undo. */
export function UndoRedo({ kept }: Props) {
  const { keeping, canUndo, canRedo } = kept;
  return (
    <span className="inline-flex gap-1">
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        disabled={!canUndo}
        title={canUndo ? `Undo: ${canUndo} (Ctrl+Z)` : "Nothing to undo"}
        onClick={keeping.undo}
      >
        <Undo2 size="1.1em" aria-hidden="true" />
        Undo
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        disabled={!canRedo}
        title={canRedo ? `Redo: ${canRedo} (Ctrl+Y)` : "Nothing to redo"}
        onClick={keeping.redo}
      >
        <Redo2 size="1.1em" aria-hidden="true" />
        Redo
      </button>
    </span>
  );
}

import { Check, CloudOff, LoaderCircle, Redo2, TriangleAlert, Undo2 } from "lucide-react";
import { type Saving, useDraft } from "./draft";

const states: Record<Saving, { icon: typeof Check; says: string }> = {
  kept: { icon: Check, says: "All of it is kept" },
  typing: { icon: LoaderCircle, says: "Keeping as you type …" },
  keeping: { icon: LoaderCircle, says: "Keeping …" },
  offline: { icon: CloudOff, says: "Grund does not answer. What you typed stays here and is sent when it is back." },
  refused: { icon: TriangleAlert, says: "This could not be kept." },
  conflict: { icon: TriangleAlert, says: "This problem was changed in another tab. What you typed here is not lost." },
};

/** StatusPanel says whether the draft is kept, and what it still needs. */
export function StatusPanel({ onWork }: { onWork: () => void }) {
  const { mistakes, saving, trouble, undo, redo, canUndo, canRedo, keepMine, takeTheirs } = useDraft();
  const state = states[saving];
  const ready = mistakes.length === 0;
  return (
    <aside aria-label="State of the problem" className="lg:sticky lg:top-20 lg:self-start">
      <div className="rounded-box border border-base-300 bg-base-200 p-4">
        <p className="font-semibold font-serif text-[1.2rem]">{ready ? "Ready to be worked" : "Still needed"}</p>
        {!ready && (
          <ul className="mt-2 grid gap-1.5">
            {mistakes.slice(0, 5).map((mistake) => (
              <li key={mistake.pointer + mistake.says} className="border-region border-l-2 pl-2.5">
                {mistake.says}
              </li>
            ))}
            {mistakes.length > 5 && <li className="pl-2.5 text-muted">and {mistakes.length - 5} more</li>}
          </ul>
        )}
        <button
          type="submit"
          className={`btn mt-4 w-full ${ready ? "btn-primary" : "btn-outline border-base-300"}`}
          onClick={(event) => {
            event.preventDefault();
            onWork();
          }}
        >
          Work the problem
        </button>
      </div>
      <p
        className={`mt-4 flex gap-2 ${saving === "conflict" || saving === "offline" || saving === "refused" ? "text-(--region-text)" : "text-muted"}`}
        role="status"
        data-testid="saving"
      >
        <state.icon size="1.2em" className="mt-0.5 shrink-0" aria-hidden="true" />
        {state.says}
        {saving === "refused" && ` ${trouble}`}
      </p>
      {saving === "conflict" && (
        <p className="mt-2 grid gap-2">
          <button type="button" className="btn btn-sm" onClick={keepMine}>
            Keep what I typed here
          </button>
          <button type="button" className="btn btn-sm" onClick={takeTheirs}>
            Show the other version
          </button>
        </p>
      )}
      <p className="mt-4 flex gap-2">
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          disabled={!canUndo}
          title={canUndo ? `Undo: ${plainName(canUndo)}` : "Nothing to undo"}
          onClick={undo}
        >
          <Undo2 size="1.1em" aria-hidden="true" />
          Undo
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          disabled={!canRedo}
          title={canRedo ? `Redo: ${plainName(canRedo)}` : "Nothing to redo"}
          onClick={redo}
        >
          <Redo2 size="1.1em" aria-hidden="true" />
          Redo
        </button>
      </p>
    </aside>
  );
}

/** plainName leaves out where a cell is, which only tells one change from the next. */
const plainName = (says: string) => says.replace(/^cell .*/, "typing in a cell");

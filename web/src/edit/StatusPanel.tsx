import { SavedState, UndoRedo } from "../app/SavedState";
import { useDraft } from "./draft";

/** StatusPanel says whether the draft is kept, and what it still needs. */
export function StatusPanel({ onWork }: { onWork: () => void }) {
  const { mistakes, kept } = useDraft();
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
      <SavedState kept={kept} what="problem" />
      <p className="mt-2">
        <UndoRedo kept={kept} />
      </p>
    </aside>
  );
}

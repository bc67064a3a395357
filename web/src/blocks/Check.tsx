import { Check, CircleHelp, Minus, X } from "lucide-react";
import type { Status } from "../api/types";
import { NoteHere } from "../notes/NoteHere";
import { useActions } from "../solution/actions";
import { findCondition, useSolution } from "../solution/solution";
import { TextView } from "./Prose";

const marks: Record<Status, { icon: typeof Check; says: string; tone: string }> = {
  met: { icon: Check, says: "Met", tone: "text-primary" },
  doubtful: { icon: CircleHelp, says: "Doubtful", tone: "text-(--expected-text)" },
  not_met: { icon: X, says: "Not met", tone: "text-(--region-text)" },
  not_needed: { icon: Minus, says: "Not needed", tone: "text-muted" },
};

/** CheckView is a condition with its ways out. */
export function CheckView({ id }: { id: string }) {
  const { solution } = useSolution();
  const { act } = useActions();
  const condition = findCondition(solution, id);
  if (!condition) return null;
  const mark = marks[condition.status];
  return (
    <div className="grid grid-cols-[1.6rem_1fr]">
      <mark.icon size="1.15em" className={`mt-[0.2em] ${mark.tone}`} role="img" aria-label={mark.says} />
      <NoteHere at={`condition/${id}`} about="this condition">
        {(note, editor) => (
          <div className="group/corner">
            <p>
              <TextView text={condition.text} />
              {condition.actions.map((action) => (
                <span key={action.id}>
                  {" "}
                  <button type="button" className="act" title={action.says} onClick={() => act(action)}>
                    {action.label}
                  </button>
                </span>
              ))}
              <span className="opacity-0 focus-within:opacity-100 group-hover/corner:opacity-100 pointer-coarse:opacity-100">
                {note}
              </span>
            </p>
            {editor}
          </div>
        )}
      </NoteHere>
    </div>
  );
}

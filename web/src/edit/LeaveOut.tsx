import { EyeOff, Plus, X } from "lucide-react";
import { useState } from "react";
import { usePreview } from "../data/DeriveDialog";
import { useDraft } from "./draft";
import { Mistake } from "./Field";

/** LeaveOutTool leaves the selected cases out, with a reason, or puts them back. */
export function LeaveOutTool({ rows }: { rows: number[] }) {
  const { draft, change } = useDraft();
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState("");
  const cases = rows.map((row) => row + 1);
  const out = new Set(draft.leave_out.map((left) => left.case));
  const back = cases.length > 0 && cases.every((number) => out.has(number));
  const words = cases.length === 1 ? `case ${cases[0]}` : `${cases.length} cases`;
  const take = () => {
    change(`leave ${words} out`, (d) => ({
      ...d,
      leave_out: [
        ...d.leave_out,
        ...cases.filter((number) => !out.has(number)).map((number) => ({ case: number, reason: reason.trim() })),
      ].sort((a, b) => a.case - b.case),
    }));
    setAsking(false);
    setReason("");
  };
  if (cases.length === 0) return null;
  if (back) {
    return (
      <button
        type="button"
        className="btn btn-ghost btn-sm gap-1.5 px-2 font-normal"
        onClick={() =>
          change(`put ${words} back`, (d) => ({
            ...d,
            leave_out: d.leave_out.filter((left) => !cases.includes(left.case)),
          }))
        }
      >
        <EyeOff size="1.15em" aria-hidden="true" />
        Put {words} back
      </button>
    );
  }
  return asking ? (
    <span className="flex items-center gap-1">
      <input
        // biome-ignore lint/a11y/noAutofocus: it was just asked for
        autoFocus
        aria-label="Why it is left out"
        className="input input-sm w-44 bg-sheet"
        placeholder={`why leave ${words} out?`}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter") {
            event.preventDefault();
            take();
          }
          if (event.key === "Escape") setAsking(false);
        }}
      />
      <button type="button" className="btn btn-sm" onClick={take}>
        Leave out
      </button>
    </span>
  ) : (
    <button type="button" className="btn btn-ghost btn-sm gap-1.5 px-2 font-normal" onClick={() => setAsking(true)}>
      <EyeOff size="1.15em" aria-hidden="true" />
      Leave {words} out
    </button>
  );
}

/** LeaveOutFields are the conditions under which cases are left out, and those left out by hand. */
export function LeaveOutFields() {
  const { draft, change, mistakes } = useDraft();
  const conditions = draft.leave_out_where ?? [];
  const set = (says: string, next: typeof conditions) =>
    change(says, (d) => ({ ...d, leave_out_where: next.length > 0 ? next : undefined }));
  return (
    <div className="grid gap-1.5">
      {draft.leave_out.length > 0 && (
        <p>
          Left out by hand:{" "}
          {draft.leave_out
            .slice(0, 8)
            .map((left) => `case ${left.case}${left.reason ? ` (${left.reason})` : ""}`)
            .join(", ")}
          {draft.leave_out.length > 8 && ` and ${draft.leave_out.length - 8} more`}.{" "}
          <button
            type="button"
            className="act"
            onClick={() => change("put all cases back", (d) => ({ ...d, leave_out: [] }))}
          >
            Put them back
          </button>
        </p>
      )}
      {conditions.map((condition, i) => {
        const mistake = mistakes.find((each) => each.pointer === `/leave_out_where/${i}/where`);
        const fields = (next: Partial<typeof condition>) =>
          set(
            "condition for leaving out",
            conditions.map((each, j) => (j === i ? { ...each, ...next } : each)),
          );
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a condition is its place
          <div key={i} className="grid gap-1">
            <div className="flex flex-wrap items-center gap-2">
              <span className="text-muted">Leave out where</span>
              <input
                aria-label={`Condition ${i + 1}`}
                aria-invalid={mistake !== undefined}
                className="input input-sm w-60 bg-sheet font-mono"
                placeholder="minutes > 60"
                value={condition.where}
                onChange={(event) => fields({ where: event.target.value })}
              />
              <span className="text-muted">because</span>
              <input
                aria-label={`Reason ${i + 1}`}
                className="input input-sm w-48 bg-sheet"
                placeholder="clock stopped"
                value={condition.reason}
                onChange={(event) => fields({ reason: event.target.value })}
              />
              <button
                type="button"
                className="btn btn-ghost btn-sm btn-square"
                aria-label={`Remove condition ${i + 1}`}
                onClick={() =>
                  set(
                    "remove a condition",
                    conditions.filter((_, j) => j !== i),
                  )
                }
              >
                <X size="1.1em" aria-hidden="true" />
              </button>
              {!mistake && <HowMany where={condition.where} />}
            </div>
            {mistake && <Mistake says={mistake.says} instead={mistake.instead} />}
          </div>
        );
      })}
      <button
        type="button"
        className="act justify-self-start"
        onClick={() => set("add a condition", [...conditions, { where: "", reason: "" }])}
      >
        <Plus size="1em" className="mr-1 inline" aria-hidden="true" />
        Leave cases out by a condition
      </button>
    </div>
  );
}

/** HowMany says how many cases a condition holds for. */
function HowMany({ where }: { where: string }) {
  const preview = usePreview({ formula: where }, where.trim() !== "");
  const count = preview?.profile?.levels?.find((level) => level.code === "yes")?.count ?? 0;
  if (!preview?.profile || where.trim() === "") return null;
  return <span className="text-muted">{count === 1 ? "1 case" : `${count} cases`}</span>;
}

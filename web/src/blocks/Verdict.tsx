import type { Verdict } from "../api/types";
import { NumberButton } from "./Number";

/** VerdictView is one decision rule with this problem's numbers. */
export function VerdictView({ block }: { block: Verdict }) {
  return (
    <div className="rounded-box border border-base-300 bg-sheet px-3 py-2">
      <p className="text-[0.86rem] text-muted">{block.rule === "p-value" ? "by p-value" : "by critical value"}</p>
      <p className="font-semibold font-serif text-[1.25rem] leading-tight">
        <NumberButton id={block.opens} words={block.compare} />
      </p>
      <p className="text-balance text-[0.86rem] text-muted">{block.says}</p>
    </div>
  );
}

import type { ReportLine } from "../api/types";
import { CopyButton } from "../app/CopyButton";
import { copyReport } from "../lib/copy";
import { useSolution } from "../solution/solution";
import { TextView } from "./Prose";

/** ReportView is the line for a paper, ready to copy. */
export function ReportView({ block }: { block: ReportLine }) {
  const { quantities } = useSolution();
  return (
    <div className="flex items-start gap-3 rounded-box border border-base-300 bg-sheet px-4 py-3">
      <p className="font-serif text-[1.1rem] leading-snug" data-testid="report">
        <TextView text={block.text} />
      </p>
      <CopyButton label="Copy the report line" copy={() => copyReport(block.text, quantities)} />
    </div>
  );
}

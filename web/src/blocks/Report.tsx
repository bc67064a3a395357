import type { ReportLine } from "../api/types";
import { CopyButton } from "../app/CopyButton";
import { KeepButton } from "../kept/KeepButton";
import { copyRich, copyText } from "../lib/copy";
import { useRemembered } from "../lib/remembered";
import { numbersOf, type ReportStyle, reportAs } from "../lib/report";
import { scrollable } from "../lib/scrollable";
import { useSolution } from "../solution/solution";
import { TextView } from "./Prose";

const styles: { style: ReportStyle; label: string }[] = [
  { style: "journal", label: "Line for a journal" },
  { style: "sentence", label: "Sentence" },
  { style: "row", label: "Row of a table" },
  { style: "list", label: "Numbers" },
];

/** What is kept of each style. */
const keptAs: Record<ReportStyle, string> = {
  journal: "report",
  sentence: "report-sentence",
  row: "report-numbers",
  list: "report-numbers",
};

/** ReportView is what a paper takes, in the style that was chosen last, ready to copy. */
export function ReportView({ block }: { block: ReportLine }) {
  const { quantities } = useSolution();
  const [remembered, setStyle] = useRemembered<ReportStyle>("report-style", "journal");
  const offered = styles.filter(
    ({ style }) => style === "journal" || (style === "sentence" ? block.sentence : block.numbers?.length),
  );
  const style = offered.some((each) => each.style === remembered) ? remembered : "journal";
  const copied = reportAs(style, block, quantities);
  return (
    <div className="rounded-box border border-base-300 bg-sheet px-4 py-3">
      <fieldset className="screen-only mb-2.5 flex flex-wrap gap-1.5" aria-label="Style of the report">
        {offered.map((each) => (
          <button
            key={each.style}
            type="button"
            aria-pressed={each.style === style}
            className={`btn btn-xs ${each.style === style ? "btn-primary" : "btn-outline border-base-300 font-normal"}`}
            onClick={() => setStyle(each.style)}
          >
            {each.label}
          </button>
        ))}
      </fieldset>
      <ReportText block={block} style={style} />
      <div className="screen-only mt-2 flex flex-wrap gap-x-2">
        <CopyButton
          label="Copy the report, with its italics"
          words="Copy"
          copy={() => copyRich(copied.plain, copied.html)}
        />
        <CopyButton label="Copy the report as plain text" words="Copy text" copy={() => copyText(copied.plain)} />
        <CopyButton label="Copy the report as Markdown" words="Copy Markdown" copy={() => copyText(copied.markdown)} />
        <KeepButton at={`sentence/${keptAs[style]}`} what="this line" words="Keep" />
      </div>
    </div>
  );
}

function ReportText({ block, style }: { block: ReportLine; style: ReportStyle }) {
  const { quantities } = useSolution();
  if (style === "row" || style === "list") {
    const numbers = numbersOf(block, quantities);
    return style === "row" ? (
      <section ref={scrollable} aria-label="The row" className="overflow-x-auto">
        <table className="tabular-nums" data-testid="report">
          <thead>
            <tr className="border-base-300 border-b text-muted">
              {numbers.map((each) => (
                <th
                  key={each.ref}
                  scope="col"
                  className="min-w-24 py-1 pr-4 text-left align-bottom font-normal leading-tight"
                >
                  {each.label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr>
              {numbers.map((each) => (
                <td key={each.ref} className="whitespace-nowrap py-1 pr-4">
                  {each.shown}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      </section>
    ) : (
      <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-0.5 tabular-nums" data-testid="report">
        {numbers.map((each) => (
          <div key={each.ref} className="contents">
            <dt className="text-muted">{each.label}</dt>
            <dd>{each.shown}</dd>
          </div>
        ))}
      </dl>
    );
  }
  return (
    <p className="font-serif text-[1.1rem] leading-snug" data-testid="report">
      <TextView text={style === "sentence" ? (block.sentence ?? block.text) : block.text} />
    </p>
  );
}

import { useVirtualizer } from "@tanstack/react-virtual";
import { BookCheck, Check, CircleHelp, Eye, Inbox, PenLine, TriangleAlert } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import type { AsksOfProblem, AttemptView, ProblemsetMark, Standings, StudentView } from "../api/types";
import { scrollable } from "../lib/scrollable";
import { stepTitles } from "../problem/steps";

/** How a step is marked: by a sign of its own, and a colour beside it. */
const markings: Record<ProblemsetMark, { icon: typeof Check | null; label: string; tone: string }> = {
  not_begun: { icon: null, label: "not begun", tone: "" },
  at_work: { icon: PenLine, label: "at work", tone: "text-muted" },
  right: { icon: Check, label: "right", tone: "text-primary" },
  other_rule: { icon: BookCheck, label: "right by another rule, or from an earlier slip", tone: "text-primary" },
  wrong: { icon: TriangleAlert, label: "a slip, or wrong", tone: "text-(--region-text)" },
  helped: { icon: CircleHelp, label: "right, with help", tone: "text-(--expected-text)" },
  shown: { icon: Eye, label: "given up", tone: "text-muted" },
};

const order: ProblemsetMark[] = ["right", "other_rule", "helped", "wrong", "shown", "at_work"];

const rowHeight = 34;

/** What a row is put in order by. */
type Order = "name" | "far" | "last";

/** Matrix is where each student is with a problem, step by step. */
export function Matrix({ standings, problem }: { standings: Standings; problem: AsksOfProblem }) {
  const box = useRef<HTMLDivElement>(null);
  const [by, setBy] = useState<Order>("name");
  const steps = useMemo(() => [...new Set(problem.asks.map((ask) => ask.step))], [problem]);
  const attempts = useMemo(
    () => new Map(standings.attempts.filter((each) => each.problem === problem.id).map((each) => [each.student, each])),
    [standings, problem],
  );
  const students = useMemo(() => inOrder(standings.students, attempts, by), [standings, attempts, by]);
  const virtual = useVirtualizer({
    count: students.length,
    getScrollElement: () => box.current,
    estimateSize: () => rowHeight,
    overscan: 12,
  });
  const columns = `minmax(9rem, 1fr) repeat(${steps.length}, minmax(2.6rem, 5.2rem)) 5.5rem`;
  return (
    <>
      {/* biome-ignore lint/a11y/useSemanticElements: a table element cannot draw only the rows in view */}
      <div
        ref={(element) => {
          box.current = element;
          return element ? scrollable(element) : undefined;
        }}
        role="table"
        aria-label={`Where each student is: ${problem.title}`}
        aria-rowcount={students.length + 1}
        className="overflow-auto rounded-field border border-base-300 bg-sheet"
        style={{ maxHeight: "max(20rem, calc(100dvh - 19rem))" }}
      >
        <div className="min-w-fit">
          {/* biome-ignore lint/a11y/useSemanticElements: as above */}
          {/* biome-ignore lint/a11y/useFocusableInteractive: its buttons are */}
          <div
            role="row"
            aria-rowindex={1}
            className="sticky top-0 z-10 grid border-base-300 border-b bg-base-200"
            style={{ gridTemplateColumns: columns }}
          >
            <Head name="student" by="name" now={by} onBy={setBy} />
            {steps.map((step) => (
              <StepHead key={step} step={step} attempts={[...attempts.values()]} of={students.length} />
            ))}
            <Head name="done" by="far" now={by} onBy={setBy} />
          </div>
          <div className="relative" style={{ height: virtual.getTotalSize() }}>
            {virtual.getVirtualItems().map((item) => {
              const student = students[item.index] as StudentView;
              return (
                <Row
                  key={student.id}
                  student={student}
                  attempt={attempts.get(student.id)}
                  steps={steps}
                  at={`/sets/${standings.set.id}/attempts/${problem.id}/${student.id}`}
                  index={item.index}
                  start={item.start}
                  columns={columns}
                />
              );
            })}
          </div>
        </div>
      </div>
      <p className="mt-2 flex flex-wrap gap-x-5 gap-y-1 text-[0.9rem] text-muted">
        {order.map((mark) => {
          const { icon: Icon, label, tone } = markings[mark];
          return (
            <span key={mark} className="flex items-center gap-1.5">
              {Icon && <Icon size="1em" className={tone} aria-hidden="true" />}
              {label}
            </span>
          );
        })}
        <span className="flex items-center gap-1.5">
          <Inbox size="1em" aria-hidden="true" />
          handed in
        </span>
      </p>
    </>
  );
}

interface HeadProps {
  name: string;
  by: Order;
  now: Order;
  onBy: (by: Order) => void;
}

function Head({ name, by, now, onBy }: HeadProps) {
  return (
    // biome-ignore lint/a11y/useSemanticElements: as above
    // biome-ignore lint/a11y/useFocusableInteractive: its button is
    <span
      role="columnheader"
      aria-sort={now === by ? (by === "name" ? "ascending" : "descending") : "none"}
      className="self-end px-2.5 pb-1.5"
    >
      <button
        type="button"
        className={`cursor-pointer hover:text-ink ${now === by ? "font-semibold" : "text-muted"}`}
        onClick={() => onBy(by)}
      >
        {name}
      </button>
    </span>
  );
}

/** StepHead names a step, and sums its column up: a bar of how many stand how. */
function StepHead({ step, attempts, of }: { step: string; attempts: AttemptView[]; of: number }) {
  const count = (mark: ProblemsetMark) => attempts.filter((each) => each.marks[step] === mark).length;
  const right = count("right") + count("other_rule") + count("helped");
  const wrong = count("wrong");
  return (
    // biome-ignore lint/a11y/useSemanticElements: as above
    // biome-ignore lint/a11y/useFocusableInteractive: nothing is done here
    <span
      role="columnheader"
      className="flex min-w-0 flex-col items-center justify-end gap-1 px-1 pt-2 pb-1.5 text-center text-[0.86rem] leading-tight"
      title={`${stepTitles[step] ?? step}: ${right} right, ${wrong} with a slip or wrong, of ${of}`}
    >
      <span className="text-muted">{stepTitles[step] ?? step}</span>
      <span className="flex h-1.5 w-full overflow-hidden rounded bg-base-300" aria-hidden="true">
        <span className="bg-primary" style={{ width: `${(100 * right) / Math.max(1, of)}%` }} />
        <span className="bg-region" style={{ width: `${(100 * wrong) / Math.max(1, of)}%` }} />
      </span>
      <span className="tabular-nums">
        {right}
        {wrong > 0 && <span className="text-(--region-text)"> · {wrong}</span>}
        <span className="sr-only">{` right${wrong > 0 ? `, ${wrong} wrong` : ""}`}</span>
      </span>
    </span>
  );
}

interface RowProps {
  student: StudentView;
  attempt: AttemptView | undefined;
  steps: string[];
  at: string;
  index: number;
  start: number;
  columns: string;
}

function Row({ student, attempt, steps, at, index, start, columns }: RowProps) {
  return (
    // biome-ignore lint/a11y/useSemanticElements: as above
    // biome-ignore lint/a11y/useFocusableInteractive: its link is
    <div
      role="row"
      aria-rowindex={index + 2}
      className="absolute inset-x-0 grid items-center border-base-300 border-b hover:bg-base-200"
      style={{ height: rowHeight, transform: `translateY(${start}px)`, gridTemplateColumns: columns }}
    >
      {/* biome-ignore lint/a11y/useSemanticElements: as above */}
      {/* biome-ignore lint/a11y/useFocusableInteractive: its link is */}
      <span role="rowheader" className="truncate px-2.5">
        {attempt ? (
          <Link to={at} className="hover:text-primary hover:underline">
            {student.name}
          </Link>
        ) : (
          <span className="text-muted">{student.name}</span>
        )}
        {student.handed_in && (
          <Inbox size="1em" className="ml-1.5 inline text-muted" role="img" aria-label="handed in" />
        )}
      </span>
      {steps.map((step) => {
        const mark = attempt?.marks[step] ?? "not_begun";
        const { icon: Icon, label, tone } = markings[mark];
        return (
          // biome-ignore lint/a11y/useSemanticElements: as above
          <span
            key={step}
            role="cell"
            data-mark={mark}
            className={`flex justify-center ${tone}`}
            title={`${stepTitles[step] ?? step}: ${label}`}
          >
            {Icon ? (
              <Icon size="1.1rem" strokeWidth={2.2} role="img" aria-label={label} />
            ) : (
              <span className="size-1.5 rounded-full bg-base-300" role="img" aria-label={label} />
            )}
          </span>
        );
      })}
      {/* biome-ignore lint/a11y/useSemanticElements: as above */}
      <span role="cell" className="px-2.5 text-right text-[0.92rem] text-muted tabular-nums">
        {attempt ? `${attempt.standing.answered} of ${attempt.standing.of}` : ""}
      </span>
    </div>
  );
}

/** inOrder puts students in an order: by name, or those who have come least far first. */
function inOrder(students: StudentView[], attempts: ReadonlyMap<string, AttemptView>, by: Order): StudentView[] {
  if (by === "name") return students;
  const far = (student: StudentView) => {
    const standing = attempts.get(student.id)?.standing;
    return standing ? standing.answered / Math.max(1, standing.of) : -1;
  };
  return [...students].sort((a, b) => far(b) - far(a));
}

import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Item, Problem, Step, TrySheet } from "../api/types";
import { useToast } from "../app/toasts";
import { StepMark } from "../blocks/StepMark";
import { useShortcuts } from "../lib/keys";
import { inNumerals } from "../lib/numerals";
import { useNumerals } from "../lib/useNumerals";
import { Brief } from "../problem/Brief";
import { Opened, type OpenedAt } from "../problem/Opened";
import { StepBlocks } from "../problem/Thread";
import { type Actions, ActionsProvider } from "../solution/actions";
import { quantitiesOf, SolutionProvider, type SolutionView } from "../solution/solution";
import type { Wire } from "./answering";
import { Calculator } from "./Calculator";
import { CellsAsk, tableOf } from "./CellsAsk";
import { ChoiceAsk } from "./ChoiceAsk";
import { CurveSoFar } from "./CurveSoFar";
import { type Doing, DoingProvider } from "./context";
import { Ending } from "./Ending";
import { isSettled, markingOf } from "./marks";
import { NumberAsk } from "./NumberAsk";
import { SentenceAsk } from "./SentenceAsk";
import { TryBar } from "./TryBar";
import { useAnswering } from "./useAnswering";

interface Props {
  /** What is worked. */
  problem: Pick<Problem, "id" | "shared" | "draft">;
  wire: Wire;
  /** Shows the solution; undefined where it cannot be read yet. */
  onRead?: () => void;
  /** Whether the answers are only looked at. */
  fixed?: boolean;
  /** What stands beside an ask that others said or may say. */
  aside?: (item: Item) => ReactNode;
}

const nothing = () => null;

/** Try lets the person work the problem: what is asked is answered in the margin, and only what was earned is shown. */
export function Try({ problem, wire, onRead, fixed = false, aside = nothing }: Props) {
  const { answering, sheet, waiting, failure, notice } = useAnswering(wire);
  const [opened, setOpened] = useState<OpenedAt | null>(null);
  const [calculating, setCalculating] = useState(false);
  const inHand = useRef<HTMLInputElement | null>(null); // the field that was written into last
  const toast = useToast();
  const view = useTryView(sheet, wire.rows);
  const items = sheet?.items ?? [];
  const waits = useCallback((ask: string) => waiting.some((deed) => deed.ask === ask), [waiting]);
  const undo = () => {
    if (sheet?.can_undo && !fixed) answering.add({ kind: "undo" });
  };
  const next = useCallback((after: string) => {
    // What is asked next may only come with the next picture.
    requestAnimationFrame(() => focusOpen(after));
  }, []);
  const doing = useMemo<Doing>(
    () => ({
      answer: (ask, text) => fixed || answering.add({ kind: "answer", ask, text }),
      help: (ask) => fixed || answering.add({ kind: "help", ask }),
      waits,
      next,
      fixed,
      aside,
    }),
    [answering, waits, next, fixed, aside],
  );
  const actions = useMemo<Actions>(
    () => ({ open: (ref, at) => setOpened({ ref, at }), change: () => {}, act: () => {} }),
    [],
  );
  useShortcuts([
    { key: "Ctrl+z", says: "Take the last answer back", act: undo },
    { key: "c", says: "Calculator", act: () => setCalculating((open) => !open) },
  ]);
  useStepInView(sheet);

  if (!sheet || !view) {
    return failure ? (
      <div role="alert" className="p-8">
        <p className="text-(--region-text)">{failure}</p>
        <button type="button" className="btn btn-sm mt-3" onClick={answering.start}>
          Try again
        </button>
      </div>
    ) : (
      <p className="p-8 text-muted" role="status">
        Laying out the problem …
      </p>
    );
  }
  return (
    <SolutionProvider value={view}>
      <ActionsProvider value={actions}>
        <DoingProvider value={doing}>
          {(failure ?? notice) && (
            <p
              role="alert"
              className={`border-base-300 border-b px-6 py-2 ${failure ? "text-(--region-text)" : "bg-base-200"}`}
            >
              {failure ?? notice}
              {failure && waiting.length > 0 && " What you answered is kept here and sent when it can be."}
            </p>
          )}
          <div className="grid flex-1 max-lg:grid-cols-1 lg:grid-cols-[minmax(0,1fr)_20rem] xl:grid-cols-[15.5rem_minmax(0,1fr)_22rem] 2xl:grid-cols-[20rem_minmax(0,1fr)_28rem]">
            <Brief problem={problem} shown={view.solution.steps.length} />
            <section
              aria-label="Your work"
              className="min-w-0 px-2 pt-1 pb-24 max-sm:px-3"
              onFocusCapture={(event) => {
                const field = event.target;
                if (field instanceof HTMLInputElement && field.dataset.ask) inHand.current = field;
              }}
            >
              <ol className="relative">
                {view.solution.steps.map((step, i) => (
                  <TryStep
                    key={step.id}
                    step={step}
                    number={i + 1}
                    items={items.filter((item) => item.step === step.id)}
                    inHand={step.id === sheet.open}
                  />
                ))}
              </ol>
              {sheet.summary && (
                <Ending
                  problem={problem}
                  summary={sheet.summary}
                  of={sheet.of}
                  onRead={onRead}
                  onAnew={wire.end && (() => void answering.anew())}
                />
              )}
            </section>
            <CurveSoFar
              items={items}
              onPut={(ask, text) =>
                typeInto(document.querySelector<HTMLInputElement>(`input[data-ask="${ask}"]`), text, false)
              }
            />
          </div>
          <TryBar
            sheet={sheet}
            calculating={calculating}
            onCalculator={() => setCalculating(!calculating)}
            onUndo={undo}
            fixed={fixed}
            onAnew={
              wire.end &&
              (() => {
                void answering.anew();
                toast({ says: "Begun anew. The attempt before is kept." });
              })
            }
          />
          <LastVerdict items={items} />
          {calculating && (
            <Calculator onPut={(text) => typeInto(inHand.current, text)} onClose={() => setCalculating(false)} />
          )}
          {opened && <Opened opened={opened} onClose={() => setOpened(null)} />}
        </DoingProvider>
      </ActionsProvider>
    </SolutionProvider>
  );
}

/** useTryView is the solution as far as it was earned. */
function useTryView(sheet: TrySheet | null, rows: Wire["rows"]): SolutionView | undefined {
  const numerals = useNumerals();
  return useMemo(() => {
    if (!sheet?.solution) return undefined;
    const solution = inNumerals(sheet.solution, numerals);
    return {
      solution,
      quantities: quantitiesOf(solution),
      rows: (table, from, asked) => rows(sheet, { table, from, ...asked }).then((page) => inNumerals(page, numerals)),
    };
  }, [sheet, rows, numerals]);
}

/** useStepInView brings the step that was just opened into view. */
function useStepInView(sheet: TrySheet | null) {
  const open = sheet?.summary ? "ending" : sheet?.open;
  const before = useRef<string | undefined>(undefined);
  useEffect(() => {
    const known = before.current;
    before.current = open;
    if (!open || known === undefined || known === open) return;
    const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    document
      .querySelector(open === "ending" ? "[data-ending]" : `[data-step="${open}"]`)
      ?.scrollIntoView({ block: "start", behavior: still ? "auto" : "smooth" });
    focusOpen();
  }, [open]);
}

/** typeInto puts a number into a field as if it were typed, and goes there; into the first open one where there is none. */
function typeInto(field: HTMLInputElement | null, text: string, goThere = true) {
  const open = () =>
    [...document.querySelectorAll<HTMLInputElement>("input[data-ask]")].find((each) => each.value === "");
  const to = field?.isConnected ? field : open();
  if (!to) return;
  // React listens to the event, and sees no change that was made through its own setter.
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set?.call(to, text);
  to.dispatchEvent(new Event("input", { bubbles: true }));
  if (goThere) to.focus();
}

/** focusOpen goes to the first ask after one that is open or not right yet, or to the first of all. */
function focusOpen(after?: string) {
  const fields = [...document.querySelectorAll<HTMLElement>("[data-ask]")];
  const open = (field: HTMLElement) => {
    if (field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement)
      return field.value === "" || field.getAttribute("aria-invalid") === "true";
    const group = field.closest("[role=group]");
    return group?.querySelector("[aria-pressed=true]") === null;
  };
  const last = after === undefined ? -1 : fields.findLastIndex((field) => field.dataset.ask === after);
  const next = fields.slice(last + 1).find(open) ?? fields.find(open);
  next?.focus({ preventScroll: after === undefined });
}

interface StepProps {
  step: Step;
  number: number;
  items: Item[];
  inHand: boolean;
}

/** TryStep is a step: what it asks, in the order of the work, and below it what was found. */
function TryStep({ step, number, items, inHand }: StepProps) {
  const heading = `step-${step.id}`;
  if (items.length === 0 && step.blocks.length === 0) return null;
  return (
    <li aria-labelledby={heading} data-step={step.id} className="scroll-mt-[3.6rem] scroll-mb-24">
      <div className="grid grid-cols-[14.5rem_1.9rem_minmax(0,1fr)] max-sm:grid-cols-[1.9rem_minmax(0,1fr)]">
        <span className="max-sm:hidden" />
        <StepMark number={number} inHand={inHand} />
        <h2 id={heading} className="pt-[1.1rem] pb-1 pl-3.5 font-semibold text-[1.12rem]">
          {step.title}
        </h2>
      </div>
      {groupsOf(items).map((group) => (
        <Asked key={group[0]?.id} items={group} />
      ))}
      {step.blocks.length > 0 && (
        <div className="grid grid-cols-[14.5rem_1.9rem_minmax(0,1fr)] max-sm:grid-cols-[1.9rem_minmax(0,1fr)]">
          <span className="max-sm:hidden" />
          <div className="relative flex justify-center">
            <span className="absolute inset-y-0 w-0.5 bg-base-300" aria-hidden="true" />
          </div>
          <div className="grid min-w-0 max-w-[46rem] grid-cols-1 gap-3 pt-1.5 pb-4 pl-3.5">
            <StepBlocks blocks={step.blocks} />
          </div>
        </div>
      )}
    </li>
  );
}

/** groupsOf puts the cells of a table together; everything else stands alone. */
function groupsOf(items: Item[]): Item[][] {
  const groups: Item[][] = [];
  for (const item of items) {
    const last = groups.at(-1);
    const table = item.id.includes("/") ? tableOf(item.id) : undefined;
    if (last && table !== undefined && tableOf(last[0]?.id ?? "") === table) last.push(item);
    else groups.push([item]);
  }
  return groups;
}

function Asked({ items }: { items: Item[] }) {
  const item = items[0] as Item;
  if (item.id.includes("/")) return <CellsAsk items={items} />;
  if (item.kind === "choice") return <ChoiceAsk item={item} />;
  if (item.kind === "sentence") return <SentenceAsk item={item} />;
  return <NumberAsk item={item} />;
}

/** LastVerdict tells a screen reader what became of the last answer. */
function LastVerdict({ items }: { items: Item[] }) {
  const before = useRef(new Map<string, string>());
  const [says, setSays] = useState("");
  useEffect(() => {
    for (const item of items) {
      const now = `${item.tries} ${item.verdict?.verdict ?? ""}`;
      const known = before.current.get(item.id);
      if (known !== undefined && known !== now && isSettled(item))
        setSays(`${item.label}: ${markingOf(item)?.label ?? ""}. ${item.verdict?.says ?? ""}`);
      before.current.set(item.id, now);
    }
  }, [items]);
  return (
    <p className="sr-only" role="status" aria-live="polite" data-testid="last-verdict">
      {says}
    </p>
  );
}

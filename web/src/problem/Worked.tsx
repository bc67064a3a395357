import { lazy, memo, type ReactNode, Suspense, useCallback, useMemo, useState } from "react";
import type { Action, Control, Problem } from "../api/types";
import { useToast } from "../app/toasts";
import { useShortcuts } from "../lib/keys";
import { usePreference } from "../lib/preferences";
import { same } from "../lib/same";
import { lowerFirst } from "../lib/words";
import { type Actions, ActionsProvider } from "../solution/actions";
import { type Chosen, ChosenProvider } from "../solution/chosen";
import { type Current, CurrentProvider } from "../solution/current";
import { FigureUnitsProvider, useProjected } from "../solution/projected";
import { type Simulating, SimulatingProvider } from "../solution/simulating";
import { controlsAt, SolutionProvider, type SolutionView, setsOf } from "../solution/solution";
import { Blank } from "./Blank";
import { Brief } from "./Brief";
import { ChosenCases } from "./ChosenCases";
import { Comparison } from "./Comparison";
import { CurvePanel } from "./CurvePanel";
import type { Mode } from "./mode";
import { Opened, type OpenedAt } from "./Opened";
import { RevealBar } from "./RevealBar";
import { Thread } from "./Thread";
import { Unkept } from "./Unkept";
import { useSettings } from "./useSettings";
import { useSimulation } from "./useSimulation";
import { useSolutionView } from "./useSolutionView";

const Pen = lazy(() => import("../pen/Pen").then((module) => ({ default: module.Pen })));

// What is shown of a solution is drawn anew when the solution is another, not whenever a case is chosen or a number opened.
const BriefPart = memo(Brief);
const ThreadPart = memo(Thread);
const CurvePart = memo(CurvePanel);

/** The steps that are projected with the curve beside them. */
const curveSteps: ReadonlySet<string> = new Set([
  "hypotheses",
  "statistic",
  "critical-value",
  "p-value",
  "decision",
  "conclusion",
]);

/** Worked is the worked solution: the question, the thread of steps, and the curve beside them. */
export function Worked({ problem, mode }: { problem: Problem; mode: Mode }) {
  const [revealed, setRevealed] = useState(1);
  const { worked, set, failure, busy, kept, change, current } = useSettings(problem, mode === "reveal" ? revealed : 0);
  const { keeping, canUndo } = kept;
  const [opened, setOpened] = useState<OpenedAt | null>(null);
  const [comparing, setComparing] = useState<Action | null>(null);
  const [cases, setCases] = useState<ReadonlySet<number>>(new Set());
  const [size, setSize] = usePreference("size");
  const [blank, setBlank] = useState(false);
  const unblank = useCallback(() => setBlank(false), []);
  const toast = useToast();
  const solution = worked?.solution;
  const simulation = useSimulation(problem, set, worked);
  const projector = mode === "reveal" && size === "projector";
  const projected = useProjected();
  const there = solution?.steps.length ?? 0;
  const steps = there + (solution?.held_back ?? 0);
  // More may be there than is to be seen, until what ends with the step in hand has come.
  const shown = mode === "reveal" ? Math.min(revealed, there) : there;
  const withCurve = !projector || curveSteps.has(solution?.steps[shown - 1]?.id ?? "");
  const beside = withCurve && projected.wide; // the curve, on the projector
  const next = () => setRevealed((now) => Math.min(steps, now + 1));
  const back = () => setRevealed((now) => Math.max(1, now - 1));
  const otherSize = () => setSize(size === "projector" ? "desk" : "projector");

  useShortcuts([
    { key: "Ctrl+z", says: canUndo ? `Undo: ${canUndo}` : "Undo the last change", act: keeping.undo },
    { key: "u", says: "Undo", act: keeping.undo, hidden: true },
    { key: "Ctrl+y", says: "Redo", act: keeping.redo },
    ...(simulation.offered
      ? [{ key: "f", says: "Fill the curve: draw samples as if H₀ were true", act: simulation.start }]
      : []),
    { key: "Escape", says: "Choose no case", act: () => setCases(new Set()), hidden: true },
    ...(mode === "reveal"
      ? [
          { key: "ArrowRight", says: "Next step", act: next },
          { key: " ", says: "Next step", act: next, hidden: true },
          { key: "PageDown", says: "Next step", act: next, hidden: true },
          { key: "ArrowLeft", says: "One step back", act: back },
          { key: "PageUp", says: "One step back", act: back, hidden: true },
          { key: "Home", says: "Back to the first step", act: () => setRevealed(1) },
          { key: "End", says: "All steps", act: () => setRevealed(steps) },
          { key: "p", says: "Projector size", act: otherSize },
          { key: ".", says: "Blank the page", act: () => setBlank(true) },
          { key: "b", says: "Blank the page", act: () => setBlank(true), hidden: true }, // remotes send either
        ]
      : []),
    ...(solution ? controlsAt(solution, shown) : [])
      .filter(({ key }) => key !== "")
      .map((control) => ({
        key: control.key,
        says: `${control.label}: the next choice`,
        act: () => {
          const following = followingChoice(control, current(control.pointer));
          if (following) change([{ pointer: control.pointer, value: following.value }], control.label);
        },
      })),
  ]);

  const actions = useMemo<Actions>(
    () => ({
      open: (ref, at) => setOpened({ ref, at }),
      change,
      act: (action) => {
        if (action.compare) return setComparing(action);
        change(setsOf(action), action.label);
        toast({ says: `Done: ${lowerFirst(action.label)}.`, action: { label: "Undo", act: keeping.undo } });
      },
    }),
    [change, toast, keeping],
  );
  const chosen = useMemo<Chosen>(
    () => ({
      chosen: cases,
      choose: (next) =>
        setCases((now) => (next.length === 1 && now.has(next[0] as number) ? new Set() : new Set(next))),
    }),
    [cases],
  );
  const view = useSolutionView(problem, set, worked);
  const close = useCallback(() => setOpened(null), []);

  if (!view) {
    return failure ? (
      <p role="alert" className="p-8 text-(--region-text)">
        {failure}
      </p>
    ) : (
      <p className="p-8 text-muted" role="status">
        Working the problem …
      </p>
    );
  }
  const bar = (pen: ReactNode) => (
    <RevealBar
      shown={shown}
      steps={steps}
      onNext={next}
      onBack={back}
      projector={size === "projector"}
      onProjector={otherSize}
      pen={pen}
    />
  );
  return (
    <Shared view={view} actions={actions} current={current} chosen={chosen} simulation={simulation}>
      <Unkept kept={kept} shared={problem.shared} failure={failure} />
      <div
        className={`grid flex-1 max-lg:grid-cols-1 ${
          projector
            ? beside
              ? "lg:grid-cols-[minmax(0,11fr)_minmax(0,9fr)]"
              : ""
            : "lg:grid-cols-[minmax(0,1fr)_23.5rem] xl:grid-cols-[17.2rem_minmax(0,1fr)_26.5rem] 2xl:grid-cols-[20rem_minmax(0,1fr)_31rem]"
        }`}
        aria-busy={busy}
      >
        {!projector && <BriefPart problem={problem} shown={shown} />}
        <FigureUnitsProvider value={projector ? (beside ? projected.left : projected.whole) : undefined}>
          <ThreadPart shown={shown} mode={mode} projector={projector} />
        </FigureUnitsProvider>
        {withCurve && (
          <FigureUnitsProvider value={projector ? (beside ? projected.right : projected.whole) : undefined}>
            <CurvePart shown={shown} mode={mode} projector={projector} under={projector && !beside} />
          </FigureUnitsProvider>
        )}
      </div>
      {mode === "reveal" && (
        <Suspense fallback={bar(null)}>
          <Pen problem={problem.id} step={solution?.steps[shown - 1]?.id ?? ""}>
            {bar}
          </Pen>
        </Suspense>
      )}
      {blank && <Blank onEnd={unblank} />}
      {cases.size > 0 && problem.draft?.entry === "data" && (
        <ChosenCases
          cases={[...cases].sort((a, b) => a - b)}
          onCompare={setComparing}
          onNone={() => setCases(new Set())}
        />
      )}
      {opened && <Opened opened={opened} onClose={close} />}
      {comparing && (
        <Comparison
          problem={kept.base.problem}
          set={set}
          steps={mode === "reveal" ? shown : 0}
          action={comparing}
          onTake={() => {
            change(setsOf(comparing), comparing.label);
            setComparing(null);
          }}
          onClose={() => setComparing(null)}
        />
      )}
    </Shared>
  );
}

/** followingChoice returns the choice after the present one, the first after the last. */
function followingChoice(control: Control, value: unknown): Control["choices"][number] | undefined {
  const at = control.choices.findIndex((choice) => same(choice.value, value ?? control.value));
  return control.choices[(at + 1) % control.choices.length];
}

interface SharedProps {
  view: SolutionView;
  actions: Actions;
  current: Current;
  chosen: Chosen;
  simulation: Simulating;
  children: React.ReactNode;
}

/** Shared gives what is inside the solution and what can be done; each apart, as each changes at times of its own. */
function Shared({ view, actions, current, chosen, simulation, children }: SharedProps) {
  return (
    <SolutionProvider value={view}>
      <ActionsProvider value={actions}>
        <CurrentProvider value={current}>
          <ChosenProvider value={chosen}>
            <SimulatingProvider value={simulation}>{children}</SimulatingProvider>
          </ChosenProvider>
        </CurrentProvider>
      </ActionsProvider>
    </SolutionProvider>
  );
}

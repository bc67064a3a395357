import { useQueryClient } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { request } from "../api/client";
import { powerQuery } from "../api/queries";
import type { Action, Problem, Table } from "../api/types";
import { useToast } from "../app/toasts";
import { SolutionProvider, type SolutionView, setsOf } from "../blocks/solution";
import { dataSetQuery, keepDerived } from "../data/context";
import { useShortcuts } from "../lib/keys";
import { useSetting } from "../lib/settings";
import { lowerFirst } from "../lib/words";
import { Brief } from "./Brief";
import { ChosenCases } from "./ChosenCases";
import { Comparison } from "./Comparison";
import { CurvePanel } from "./CurvePanel";
import { Opened, type OpenedAt } from "./Opened";
import type { Mode } from "./ProblemPage";
import { RevealBar } from "./RevealBar";
import { Thread } from "./Thread";
import { useSimulation } from "./useSimulation";
import { useWork } from "./useWork";

/** Worked is the worked solution: the question, the thread of steps, and the curve beside them. */
export function Worked({ problem, mode }: { problem: Problem; mode: Mode }) {
  const { work, set, current, change, undo, lastUndo, keep, conflict, takeTheirs, keepMine } = useWork(problem);
  const [opened, setOpened] = useState<OpenedAt | null>(null);
  const [comparing, setComparing] = useState<Action | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [revealed, setRevealed] = useState(1);
  const [size, setSize] = useSetting("size");
  const toast = useToast();
  const client = useQueryClient();
  const undoLast = useRef(undo);
  undoLast.current = undo;
  const solution = work.data;
  const simulation = useSimulation(problem, set, solution);
  const projector = mode === "reveal" && size === "projector";
  const steps = solution?.steps.length ?? 0;
  const next = () => setRevealed((now) => Math.min(steps, now + 1));
  const back = () => setRevealed((now) => Math.max(1, now - 1));

  useShortcuts([
    { key: "Ctrl+z", says: lastUndo ? `Undo: ${lastUndo}` : "Undo the last change", act: undo },
    { key: "u", says: "Undo", act: undo, hidden: true },
    ...(simulation.offered
      ? [{ key: "f", says: "Fill the curve: draw samples as if H₀ were true", act: simulation.start }]
      : []),
    { key: "Escape", says: "Choose no case", act: () => setChosen(new Set()), hidden: true },
    ...(mode === "reveal"
      ? [
          { key: "ArrowRight", says: "Next step", act: next },
          { key: " ", says: "Next step", act: next, hidden: true },
          { key: "PageDown", says: "Next step", act: next, hidden: true },
          { key: "ArrowLeft", says: "One step back", act: back },
          { key: "PageUp", says: "One step back", act: back, hidden: true },
          { key: "Home", says: "Back to the first step", act: () => setRevealed(1) },
          { key: "End", says: "All steps", act: () => setRevealed(steps) },
          { key: "p", says: "Projector size", act: () => setSize(size === "projector" ? "desk" : "projector") },
        ]
      : []),
    ...(solution?.controls ?? [])
      .filter(({ key }) => key !== "")
      .map((control) => ({
        key: control.key,
        says: `${control.label}: the next choice`,
        act: () => {
          const value = JSON.stringify(current(control.pointer) ?? control.value);
          const at = control.choices.findIndex((choice) => JSON.stringify(choice.value) === value);
          const following = control.choices[(at + 1) % control.choices.length];
          if (following) change([{ pointer: control.pointer, value: following.value }], control.label);
        },
      })),
  ]);

  const quantities = useMemo(
    () => new Map((solution?.quantities ?? []).map((quantity) => [quantity.id, quantity])),
    [solution],
  );

  if (work.error && !solution) {
    return (
      <p role="alert" className="p-8 text-(--region-text)">
        {work.error.message}
      </p>
    );
  }
  if (!solution) {
    return (
      <p className="p-8 text-muted" role="status">
        Working the problem …
      </p>
    );
  }
  const view: SolutionView = {
    solution,
    quantities,
    open: (ref, at) => setOpened({ ref, at }),
    current,
    change,
    act: (action) => {
      if (action.compare) return setComparing(action);
      change(setsOf(action), action.label);
      toast({
        says: `Done: ${lowerFirst(action.label)}.`,
        action: { label: "Undo", act: () => undoLast.current() },
      });
    },
    pictures: problem.draft?.entry === "data" ? picturesOf(problem) : undefined,
    rows: (table, from, asked) =>
      request<Table>("POST", `/api/problems/${problem.id}/work`, { set, table, from, ...asked }),
    simulation,
    power: { ask: (question) => powerQuery(problem, set, question), name: `power.${problem.id}` },
    derive:
      problem.draft?.entry === "data"
        ? async (columns) => {
            const kept = await keepDerived(await client.fetchQuery(dataSetQuery(problem.data_set)), columns);
            const fresh = () => client.invalidateQueries({ queryKey: ["data-set", problem.data_set] });
            await fresh();
            toast({
              says: `Kept with the data: ${kept.names.join(" and ")}.`,
              action: { label: "Undo", act: () => kept.undo().then(fresh) },
            });
          }
        : undefined,
    chosen,
    choose: (cases) =>
      setChosen((now) => (cases.length === 1 && now.has(cases[0] as number) ? new Set() : new Set(cases))),
  };
  const shown = mode === "reveal" ? Math.min(revealed, steps) : steps;
  return (
    <SolutionProvider value={view}>
      {conflict && <Conflict onTheirs={takeTheirs} onMine={keepMine} />}
      {work.error && (
        <p role="alert" className="border-region border-b bg-base-200 px-6 py-2 text-(--region-text)">
          {work.error.message} The solution below is the one before.
        </p>
      )}
      {keep.isError && !conflict && (
        <p role="alert" className="border-region border-b bg-base-200 px-6 py-2 text-(--region-text)">
          The last change is not kept yet. {keep.error.message}{" "}
          <button type="button" className="act" onClick={() => keep.mutate(set)}>
            Try again
          </button>
        </p>
      )}
      <div
        className={`grid flex-1 max-lg:grid-cols-1 ${
          projector
            ? "lg:grid-cols-[minmax(0,1fr)_minmax(0,26rem)]"
            : "lg:grid-cols-[minmax(0,1fr)_23.5rem] xl:grid-cols-[17.2rem_minmax(0,1fr)_26.5rem] 2xl:grid-cols-[20rem_minmax(0,1fr)_31rem]"
        }`}
        aria-busy={work.isFetching}
      >
        {!projector && <Brief problem={problem} />}
        <Thread shown={shown} mode={mode} projector={projector} />
        <CurvePanel shown={shown} mode={mode} />
      </div>
      {mode === "reveal" && (
        <RevealBar
          shown={shown}
          steps={steps}
          onNext={next}
          onBack={back}
          projector={size === "projector"}
          onProjector={() => setSize(size === "projector" ? "desk" : "projector")}
        />
      )}
      {chosen.size > 0 && problem.draft?.entry === "data" && (
        <ChosenCases
          cases={[...chosen].sort((a, b) => a - b)}
          onCompare={setComparing}
          onNone={() => setChosen(new Set())}
        />
      )}
      {opened && <Opened opened={opened} onClose={() => setOpened(null)} />}
      {comparing && (
        <Comparison
          problem={problem}
          set={set}
          action={comparing}
          onTake={() => {
            change(setsOf(comparing), comparing.label);
            setComparing(null);
          }}
          onClose={() => setComparing(null)}
        />
      )}
    </SolutionProvider>
  );
}

/** picturesOf returns the address where the problem's data can be looked at, beginning with the variables that have a role. */
function picturesOf(problem: Problem): string {
  const roles = Object.values(problem.draft?.roles ?? {}).flat();
  const look = roles.length > 0 ? roles.slice(0, 2) : ["response", "group"];
  return `/data/${problem.data_set}?${new URLSearchParams([["problem", problem.id], ...look.map((name) => ["look", name])])}`;
}

function Conflict({ onTheirs, onMine }: { onTheirs: () => void; onMine: () => void }) {
  return (
    <div
      role="alert"
      className="flex flex-wrap items-center gap-x-6 gap-y-2 border-region border-b bg-base-200 px-6 py-2.5"
    >
      <span>This problem was changed in another tab or window. What you chose here is not lost.</span>
      <button type="button" className="act" onClick={onMine}>
        Keep what I chose here
      </button>
      <button type="button" className="act" onClick={onTheirs}>
        Show the other version
      </button>
    </div>
  );
}

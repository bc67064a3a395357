import { type ReactNode, useMemo, useState } from "react";
import { type Actions, ActionsProvider } from "../solution/actions";
import { SolutionProvider, type SolutionView } from "../solution/solution";
import { CurvePanel } from "./CurvePanel";
import { Opened, type OpenedAt } from "./Opened";
import { Thread } from "./Thread";

/** Reading is a worked solution that is only read: its numbers open, and nothing of it is changed. children stand at its left. */
export function Reading({ view, children }: { view: SolutionView; children: ReactNode }) {
  const [opened, setOpened] = useState<OpenedAt | null>(null);
  const actions = useMemo<Actions>(
    () => ({ open: (ref, at) => setOpened({ ref, at }), change: () => {}, act: () => {} }),
    [],
  );
  // What would change it is not offered.
  const fixed = useMemo(() => {
    const { solution } = view;
    const conditions = solution.conditions.map((condition) => ({ ...condition, actions: [] }));
    const figures = solution.figures.map((figure) => ({ ...figure, handles: [] }));
    return { ...view, solution: { ...solution, controls: [], conditions, figures } };
  }, [view]);
  const shown = fixed.solution.steps.length;
  return (
    <SolutionProvider value={fixed}>
      <ActionsProvider value={actions}>
        <div className="grid flex-1 max-lg:grid-cols-1 lg:grid-cols-[minmax(0,1fr)_23.5rem] xl:grid-cols-[17.2rem_minmax(0,1fr)_26.5rem] 2xl:grid-cols-[20rem_minmax(0,1fr)_31rem]">
          {children}
          <Thread shown={shown} mode="read" projector={false} />
          <CurvePanel shown={shown} mode="read" />
        </div>
        {opened && <Opened opened={opened} onClose={() => setOpened(null)} />}
      </ActionsProvider>
    </SolutionProvider>
  );
}

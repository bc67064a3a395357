import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef } from "react";
import { request } from "../api/client";
import { problemQuery, workQuery } from "../api/queries";
import type { Draft, Failure, Problem, ProblemSet, Settled } from "../api/types";
import type { Held, Way } from "../lib/keeping";
import { useKeeping } from "../lib/keepings";
import { same } from "../lib/same";
import { changed, current, difference, filled, over, type Settings, settingsOf } from "./settings";

/** What the server has: the problem as it was kept last, and why it has no solution if it has none. */
interface Base {
  problem: Problem;
  failure: Failure | null;
}

const heldOf = (problem: Problem): Held<Settings, Base> => ({
  state: settingsOf(problem.draft as Draft),
  base: { problem, failure: null },
});

/**
 * settingsWay keeps the settings of a problem at once, by the request that also brings their solution; steps tells how
 * many of its steps are shown, 0 for all.
 */
function settingsWay(client: QueryClient, id: string, steps: () => number): Way<Settings, Base> {
  const path = `/api/problems/${id}/settings`;
  return {
    quiet: 0,
    together: 0,
    same: (a, b) => difference(a, b).length === 0,
    over,
    save: async (settings, kept) => {
      const body = { version: kept.base.problem.version, set: difference(settings, kept.state), steps: steps() };
      const { problem, solution, failure } = await request<Settled>("PATCH", path, body, { outlives: true });
      client.setQueryData(problemQuery(id).queryKey, problem);
      const { version, data_version } = problem;
      if (solution)
        client.setQueryData(workQuery(problem, [], body.steps).queryKey, { version, data_version, solution });
      client.invalidateQueries({ queryKey: ["problems"] });
      return { problem, failure };
    },
    theirs: async () => heldOf(await client.fetchQuery({ ...problemQuery(id), staleTime: 0 })),
    leave: (settings, kept, underWay) => {
      const version = kept.base.problem.version + (underWay ? 1 : 0);
      const body = { version, set: difference(settings, kept.state), steps: 1 };
      request("PATCH", path, body, { outlives: true }).catch(() => {}); // nobody is there any more to be told
    },
  };
}

/**
 * useSettings holds the settings of a problem while they are changed, and its solution as far as its first steps, all
 * where that is 0. A change is kept at once; until its solution is there the one before is shown.
 */
export function useSettings(problem: Problem, steps: number) {
  const client = useQueryClient();
  const { id } = problem;
  const shown = useRef(steps);
  shown.current = steps;
  const kept = useKeeping<Settings, Base>(
    `settings:${id}`,
    heldOf(problem),
    settingsWay(client, id, () => shown.current),
  );
  const { state, base, keeping } = kept;
  useEffect(() => {
    // What came anew from the server is shown. Where only the data are others, what can be undone stays.
    const { version, data_version } = keeping.snapshot().base.problem;
    if (problem.version > version) keeping.adopt(heldOf(problem));
    else if (problem.version === version && problem.data_version > data_version)
      keeping.learn(() => ({ problem, failure: null }));
  }, [problem, keeping]);
  const work = useQuery({ ...workQuery(base.problem, [], steps), enabled: base.failure === null });
  const change = useCallback(
    (set: ProblemSet[], says: string) => {
      if (keeping.settled()) {
        const draft = keeping.snapshot().base.problem.draft as Draft;
        keeping.know((settings) => filled(settings, draft));
      }
      keeping.change(says, (settings) => changed(settings, set));
    },
    [keeping],
  );
  // What was worked last is shown until something newer is.
  const last = useRef(work.data);
  last.current = work.data ?? last.current;
  const worked = last.current;
  const at = useMemo(() => {
    const keptSettings = settingsOf(base.problem.draft as Draft);
    return (pointer: string) => {
      const value = current(state, pointer);
      // A control knows in which form its choices are written, and what stands there where nothing was set.
      const control =
        worked?.version === base.problem.version && same(value, current(keptSettings, pointer))
          ? worked.solution.controls.find((each) => each.pointer === pointer)
          : undefined;
      return control ? control.value : value;
    };
  }, [state, base, worked]);
  const failure = base.failure?.detail ?? work.error?.message;
  const busy = work.isFetching || kept.saving === "typing" || kept.saving === "keeping";
  return { worked, failure, busy, kept, change, current: at };
}

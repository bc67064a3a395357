import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef } from "react";
import { request } from "../api/client";
import { problemQuery, sharedProblemQuery, workQuery } from "../api/queries";
import type { Draft, Failure, Problem, ProblemSet, Settled } from "../api/types";
import type { Held, Way } from "../lib/keeping";
import { useKeeping } from "../lib/keepings";
import { same } from "../lib/same";
import { changed, current, difference, filled, over, type Settings, settingsOf } from "./settings";

/** What the server has: the problem as it was kept last, what is changed in it here, and why it has no solution if it has none. */
interface Base {
  problem: Problem;
  /** The settings that the solution is of, and how they are set in the problem: [] where they are kept in it. */
  settings: Settings;
  set: ProblemSet[];
  failure: Failure | null;
}

const none: ProblemSet[] = [];

const heldOf = (problem: Problem): Held<Settings, Base> => {
  const settings = settingsOf(problem.draft as Draft);
  return { state: settings, base: { problem, settings, set: none, failure: null } };
};

/** same and over tell how settings are compared, and put over others. */
const compared = { same: (a: Settings, b: Settings) => difference(a, b).length === 0, over };

/**
 * settingsWay keeps the settings of a problem at once, by the request that also brings their solution; steps tells how
 * many of its steps are shown, 0 for all.
 */
function settingsWay(client: QueryClient, id: string, steps: () => number): Way<Settings, Base> {
  const path = `/api/problems/${id}/settings`;
  return {
    ...compared,
    quiet: 0,
    together: 0,
    save: async (settings, kept) => {
      const body = { version: kept.base.problem.version, set: difference(settings, kept.state), steps: steps() };
      const { problem, solution, failure } = await request<Settled>("PATCH", path, body, { outlives: true });
      client.setQueryData(problemQuery(id).queryKey, problem);
      const { version, data_version } = problem;
      if (solution)
        client.setQueryData(workQuery(problem, none, body.steps).queryKey, { version, data_version, solution });
      client.invalidateQueries({ queryKey: ["problems"] });
      return { ...heldOf(problem).base, failure };
    },
    theirs: async () => heldOf(await client.fetchQuery({ ...problemQuery(id), staleTime: 0 })),
    leave: (settings, kept, underWay) => {
      const version = kept.base.problem.version + (underWay ? 1 : 0);
      const body = { version, set: difference(settings, kept.state), steps: 1 };
      request("PATCH", path, body, { outlives: true }).catch(() => {}); // nobody is there any more to be told
    },
  };
}

/** lookingWay holds the settings of another's problem on the page alone: they are worked, and kept nowhere. */
function lookingWay(client: QueryClient, token: string, steps: () => number): Way<Settings, Base> {
  return {
    ...compared,
    quiet: 0,
    together: 0,
    save: async (settings, { base }) => {
      const set = difference(settings, settingsOf(base.problem.draft as Draft));
      await client.fetchQuery(workQuery(base.problem, set, steps()));
      return { ...base, settings, set: set.length > 0 ? set : none };
    },
    theirs: async () => heldOf(await client.fetchQuery({ ...sharedProblemQuery(token), staleTime: 0 })),
    leave: () => {},
  };
}

/** newer returns a problem that was changed meanwhile, with what is changed here put over it where it is another's. */
function newer(problem: Problem, { state, base }: Held<Settings, Base>): Held<Settings, Base> {
  const now = heldOf(problem);
  if (!problem.shared || base.set.length === 0) return now;
  const mine = over(state, settingsOf(base.problem.draft as Draft), now.state);
  return { state: mine, base: { ...now.base, settings: mine, set: difference(mine, now.state) } };
}

/**
 * useSettings holds the settings of a problem while they are changed, and its solution as far as its first steps, all
 * where that is 0. A change is kept at once; until its solution is there the one before is shown.
 */
export function useSettings(problem: Problem, steps: number) {
  const client = useQueryClient();
  const { id, shared } = problem;
  const shown = useRef(steps);
  shown.current = steps;
  const kept = useKeeping<Settings, Base>(
    `settings:${id}`,
    heldOf(problem),
    (shared ? lookingWay : settingsWay)(client, id, () => shown.current),
  );
  const { state, base, keeping } = kept;
  useEffect(() => {
    // What came anew from the server is shown. Where only the data are others, what can be undone stays.
    const { version, data_version } = keeping.snapshot().base.problem;
    if (problem.version > version) keeping.adopt(newer(problem, keeping.snapshot()));
    else if (problem.version === version && problem.data_version > data_version)
      keeping.learn((before) => ({ ...before, problem, failure: null }));
  }, [problem, keeping]);
  const work = useQuery({ ...workQuery(base.problem, base.set, steps), enabled: base.failure === null });
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
  const present = !work.isPlaceholderData && worked?.version === base.problem.version;
  const at = useMemo(() => {
    return (pointer: string) => {
      const value = current(state, pointer);
      // A control knows in which form its choices are written, and what stands there where nothing was set.
      const control =
        present && same(value, current(base.settings, pointer))
          ? worked.solution.controls.find((each) => each.pointer === pointer)
          : undefined;
      return control ? control.value : value;
    };
  }, [state, base, worked, present]);
  const failure = base.failure?.detail ?? work.error?.message;
  const busy = work.isFetching || kept.saving === "typing" || kept.saving === "keeping";
  return { worked, set: base.set, failure, busy, kept, change, current: at };
}

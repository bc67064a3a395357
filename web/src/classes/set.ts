import type { SetRequest, Settings, SetView } from "../api/types";
import type { Held } from "../lib/keeping";

/** A problem of a set as it is edited. One that is new has the problem that it is made from. */
export interface EditedProblem {
  id: string;
  title: string;
  points: Record<string, number>;
  from?: string;
}

/** A set as it is edited. */
export interface EditedSet {
  settings: Settings;
  released: boolean;
  problems: readonly EditedProblem[];
}

/** editedOf returns a set as the server has it, to be edited. */
export const editedOf = (set: SetView): Held<EditedSet, SetView> => ({
  state: {
    settings: set.settings,
    released: set.released,
    problems: set.problems.map(({ id, title, points }) => ({ id, title, points })),
  },
  base: set,
});

/** requestOf returns what is sent of a set: a problem that the server has by now is named by its id there. */
export const requestOf = (set: EditedSet, version: number, known: ReadonlyMap<string, string>): SetRequest => ({
  version,
  settings: set.settings,
  released: set.released,
  problems: set.problems.map(({ id, points, from }) => {
    const there = known.get(id);
    return from && !there ? { from, points } : { id: there ?? id, points };
  }),
});

/** What a set is without, when it comes to what keeps it from being handed out. */
export function missing(set: EditedSet): string[] {
  return [
    ...(set.settings.title.trim() === "" ? ["a title"] : []),
    ...(set.problems.length === 0 ? ["a problem"] : []),
  ];
}

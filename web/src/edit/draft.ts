import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { createContext, useContext, useMemo } from "react";
import { request } from "../api/client";
import { problemQuery } from "../api/queries";
import type { Description, Draft, Problem, ProblemError, Saved } from "../api/types";
import { dataSetQuery, type HeldSet, saveSheet } from "../data/context";
import { alike, type Sheet } from "../data/sheet";
import type { Held, Keeping, Kept, Way } from "../lib/keeping";
import { useKeeping } from "../lib/keepings";
import { same } from "../lib/same";

/** What is edited together, with one undo: the problem's draft and the data set that it is about. */
export interface Edited {
  draft: Draft;
  dataSet: string;
  sheet: Sheet;
}

/** What the server has: the problem's version and what is wrong with it, and each data set that was taken. */
export interface EditBase {
  version: number;
  mistakes: ProblemError[];
  sets: ReadonlyMap<string, Pick<HeldSet, "version" | "sheet">>;
}

export interface DraftState {
  id: string;
  draft: Draft;
  dataSet: string;
  /** Of the procedure that is chosen, and all there are. */
  description: Description;
  procedures: Description[];
  mistakes: ProblemError[];
  kept: Kept<Edited, EditBase> & { keeping: Keeping<Edited, EditBase> };
  /** Changes the draft; says names the change for undo. */
  change: (says: string, next: (draft: Draft) => Draft) => void;
  /** Puts another data set in place of the one that the problem is about. */
  takeDataSet: (id: string) => Promise<void>;
}

const Context = createContext<DraftState | null>(null);

export const DraftProvider = Context.Provider;

/** useDraft returns the draft that is being edited. */
export function useDraft(): DraftState {
  const state = useContext(Context);
  if (!state) throw new Error("a field stands outside a draft");
  return state;
}

const withSet = (base: EditBase, set: Pick<HeldSet, "id" | "version" | "sheet">): EditBase => ({
  ...base,
  sets: new Map(base.sets).set(set.id, { version: set.version, sheet: set.sheet }),
});

const heldOf = (problem: Problem, set: HeldSet): Held<Edited, EditBase> => ({
  state: { draft: problem.draft as Draft, dataSet: set.id, sheet: set.sheet },
  base: withSet({ version: problem.version, mistakes: problem.mistakes, sets: new Map() }, set),
});

/** editWay keeps a problem and the data set that it is about. */
function editWay(client: QueryClient, id: string): Way<Edited, EditBase> {
  return {
    quiet: 500,
    together: 1500,
    alike: (a, b) => a.dataSet === b.dataSet && same(a.draft, b.draft) && alike(a.sheet, b.sheet),
    save: async ({ draft, dataSet, sheet }, kept, mark) => {
      let { base } = kept;
      let set = base.sets.get(dataSet);
      if (!set) {
        // The other version of the problem, which mine is put over, is about another data set.
        const query = dataSetQuery(dataSet);
        const known = client.getQueryData(query.queryKey);
        const fresh = await client.fetchQuery({ ...query, staleTime: 0 });
        set = known?.version === fresh.version ? known : fresh;
        base = withSet(base, { ...set, id: dataSet });
      }
      if (sheet !== set.sheet) {
        const saved = await saveSheet(dataSet, set.version, sheet, set.sheet);
        base = withSet({ ...base, version: saved.problems[id] ?? base.version }, { id: dataSet, ...saved, sheet });
        mark({ state: { ...kept.state, sheet: dataSet === kept.state.dataSet ? sheet : kept.state.sheet }, base });
        client.setQueryData(dataSetQuery(dataSet).queryKey, (old) => old && { ...old, sheet, version: saved.version });
        client.invalidateQueries({ queryKey: ["data-sets"] });
      }
      const changed = draft !== kept.state.draft || dataSet !== kept.state.dataSet;
      const saved = changed
        ? await request<Saved>("PUT", `/api/problems/${id}`, { version: base.version, draft, data_set: dataSet })
        : await request<Saved>("GET", `/api/problems/${id}/check`);
      // What was only looked at may be another's already: its version is not the one that was written here.
      const version = changed ? saved.version : base.version;
      base = { ...base, version, mistakes: saved.mistakes };
      const { version: dataVersion = 0 } = base.sets.get(dataSet) ?? {};
      client.setQueryData(problemQuery(id).queryKey, (old) => {
        if (!old) return old;
        return { ...old, draft, version, mistakes: saved.mistakes, data_set: dataSet, data_version: dataVersion };
      });
      client.invalidateQueries({ queryKey: ["problems"] });
      return base;
    },
    theirs: async () => {
      const problem = await client.fetchQuery({ ...problemQuery(id), staleTime: 0 });
      return heldOf(problem, await client.fetchQuery({ ...dataSetQuery(problem.data_set), staleTime: 0 }));
    },
  };
}

/** useDraftState holds a draft and its data set, and keeps both as they are changed. */
export function useDraftState(problem: Problem, held: HeldSet, procedures: Description[]): DraftState {
  const client = useQueryClient();
  const { id } = problem;
  const kept = useKeeping<Edited, EditBase>(`draft:${id}`, heldOf(problem, held), editWay(client, id));
  return useMemo(() => {
    const { state, base, keeping } = kept;
    return {
      id,
      draft: state.draft,
      dataSet: state.dataSet,
      description: (procedures.find((each) => each.id === state.draft.procedure) ?? procedures[0]) as Description,
      procedures,
      mistakes: base.mistakes,
      kept,
      change: (says, next) =>
        keeping.change(says, (now) => {
          const draft = next(now.draft);
          return draft === now.draft ? now : { ...now, draft };
        }),
      takeDataSet: async (other) => {
        if (!(await keeping.flush())) return;
        const set = await client.fetchQuery({ ...dataSetQuery(other), staleTime: 0 });
        keeping.learn((now) => withSet(now, set));
        keeping.change("take another data set", (now) => ({
          draft: { ...now.draft, roles: {}, leave_out: [], leave_out_where: undefined },
          dataSet: other,
          sheet: set.sheet,
        }));
      },
    };
  }, [id, procedures, kept, client]);
}

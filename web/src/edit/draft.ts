import { useQueryClient } from "@tanstack/react-query";
import { createContext, useContext, useRef, useState } from "react";
import { request } from "../api/client";
import { problemQuery } from "../api/queries";
import type { Description, Draft, Problem, ProblemError, Saved } from "../api/types";
import { dataSetQuery, type HeldSet, saveSheet } from "../data/context";
import type { Sheet } from "../data/sheet";
import { type Kept, useKept } from "../lib/kept";

/** What is edited together, with one undo: the problem's draft and the data set that it is about. */
export interface Edited {
  draft: Draft;
  dataSet: string;
  sheet: Sheet;
}

export interface DraftState {
  id: string;
  draft: Draft;
  dataSet: string;
  /** Of the procedure that is chosen, and all there are. */
  description: Description;
  procedures: Description[];
  mistakes: ProblemError[];
  kept: Kept<Edited>;
  /** Changes the draft; says names the change for undo. */
  change: (says: string, next: (draft: Draft) => Draft) => void;
  /** Puts another data set in place of the one that the problem is about. */
  takeDataSet: (id: string) => Promise<void>;
  /** Of the data set as it is kept. */
  dataVersion: number;
}

const Context = createContext<DraftState | null>(null);

export const DraftProvider = Context.Provider;

/** useDraft returns the draft that is being edited. */
export function useDraft(): DraftState {
  const state = useContext(Context);
  if (!state) throw new Error("a field stands outside a draft");
  return state;
}

/** useDraftState holds a draft and its data set, and keeps both as they are changed. */
export function useDraftState(problem: Problem, held: HeldSet, procedures: Description[]): DraftState {
  const client = useQueryClient();
  const [mistakes, setMistakes] = useState(problem.mistakes);
  const [dataVersion, setDataVersion] = useState(held.version);
  // The versions that the next write is based on; of every data set that was taken.
  const versions = useRef({ problem: problem.version, sets: new Map([[held.id, held.version]]) });
  const saved = (answer: Saved, draft: Draft, dataSet: string) => {
    versions.current.problem = answer.version;
    setMistakes(answer.mistakes);
    client.setQueryData(problemQuery(problem.id).queryKey, (old) =>
      old
        ? {
            ...old,
            draft,
            version: answer.version,
            mistakes: answer.mistakes,
            data_set: dataSet,
            data_version: versions.current.sets.get(dataSet) ?? 0,
          }
        : old,
    );
    client.invalidateQueries({ queryKey: ["problems"] });
  };
  const kept = useKept<Edited>(
    { draft: problem.draft as Draft, dataSet: held.id, sheet: held.sheet },
    {
      save: async (state, before, mark) => {
        const { draft, dataSet, sheet } = state;
        let base = before;
        if (sheet !== base.sheet && dataSet === base.dataSet) {
          const version = versions.current.sets.get(dataSet) ?? 0;
          const next = await saveSheet(dataSet, version, sheet, base.sheet);
          versions.current.sets.set(dataSet, next);
          setDataVersion(next);
          client.setQueryData(dataSetQuery(dataSet).queryKey, (old) => (old ? { ...old, sheet, version: next } : old));
          client.invalidateQueries({ queryKey: ["data-sets"] });
          base = { ...base, sheet };
          mark(base);
        }
        if (draft !== base.draft || dataSet !== base.dataSet) {
          const body = { version: versions.current.problem, draft, data_set: dataSet };
          saved(await request<Saved>("PUT", `/api/problems/${problem.id}`, body), draft, dataSet);
        } else {
          saved(await request<Saved>("GET", `/api/problems/${problem.id}/check`), draft, dataSet);
        }
      },
      theirs: async () => {
        const theirs = await client.fetchQuery({ ...problemQuery(problem.id), staleTime: 0 });
        const set = await client.fetchQuery({ ...dataSetQuery(theirs.data_set), staleTime: 0 });
        versions.current.problem = theirs.version;
        versions.current.sets.set(set.id, set.version);
        setDataVersion(set.version);
        setMistakes(theirs.mistakes);
        return { draft: theirs.draft as Draft, dataSet: set.id, sheet: set.sheet };
      },
    },
  );
  return {
    id: problem.id,
    draft: kept.state.draft,
    dataSet: kept.state.dataSet,
    description: (procedures.find((each) => each.id === kept.state.draft.procedure) ?? procedures[0]) as Description,
    procedures,
    mistakes,
    kept,
    dataVersion,
    change: (says, next) =>
      kept.change(says, (state) => {
        const draft = next(state.draft);
        return draft === state.draft ? state : { ...state, draft };
      }),
    takeDataSet: async (id) => {
      if (!(await kept.flush())) return;
      const set = await client.fetchQuery({ ...dataSetQuery(id), staleTime: 0 });
      versions.current.sets.set(id, set.version);
      setDataVersion(set.version);
      kept.change("take another data set", (state) => ({
        draft: { ...state.draft, roles: {}, leave_out: [], leave_out_where: undefined },
        dataSet: id,
        sheet: set.sheet,
      }));
    },
  };
}

/** namesOf returns the variables of a role as a list. */
export function namesOf(draft: Draft, role: string): string[] {
  const names = draft.roles[role];
  return names === undefined ? [] : Array.isArray(names) ? names : [names];
}

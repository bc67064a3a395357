import { useQueryClient } from "@tanstack/react-query";
import { createContext, useCallback, useContext, useEffect, useRef, useState } from "react";
import { RequestError, request } from "../api/client";
import { problemQuery } from "../api/queries";
import type { Description, Draft, Kind, Problem, ProblemError, Saved } from "../api/types";

/** How long nothing must be typed before the draft is kept. */
const quiet = 500;

/** Saving says how the kept problem and the one on the screen stand to each other. */
export type Saving = "kept" | "typing" | "keeping" | "offline" | "conflict" | "refused";

export interface DraftState {
  id: string;
  draft: Draft;
  description: Description;
  kinds: Kind[];
  mistakes: ProblemError[];
  saving: Saving;
  /** Why the draft could not be kept, if it could not. */
  trouble: string;
  /** Changes the draft; says names the change for undo. */
  change: (says: string, next: (draft: Draft) => Draft) => void;
  undo: () => void;
  redo: () => void;
  canUndo: string | undefined;
  canRedo: string | undefined;
  /** Keeps the draft now; false where it could not be. */
  flush: () => Promise<boolean>;
  keepMine: () => void;
  takeTheirs: () => void;
}

const Context = createContext<DraftState | null>(null);

export const DraftProvider = Context.Provider;

/** useDraft returns the draft that is being edited. */
export function useDraft(): DraftState {
  const state = useContext(Context);
  if (!state) throw new Error("a field stands outside a draft");
  return state;
}

interface Change {
  says: string;
  draft: Draft;
}

/** Typing on in one field is one change for undo. */
const together = 1500;

/** useDraftState holds the draft, keeps it as it is typed, and can undo every change. */
export function useDraftState(problem: Problem, description: Description): DraftState {
  const client = useQueryClient();
  const [draft, setDraft] = useState<Draft>(problem.draft as Draft);
  const [past, setPast] = useState<Change[]>([]);
  const [future, setFuture] = useState<Change[]>([]);
  const [saved, setSaved] = useState<Saved>({
    version: problem.version,
    kinds: problem.kinds,
    mistakes: problem.mistakes,
  });
  const [saving, setSaving] = useState<Saving>("kept");
  const [trouble, setTrouble] = useState("");
  const latest = useRef({ draft, version: saved.version, kept: draft });
  latest.current.draft = draft;
  const lastChange = useRef({ says: "", at: 0 });

  const keep = useCallback(async (): Promise<boolean> => {
    const { draft: sent, version } = latest.current;
    if (sent === latest.current.kept) return true;
    setSaving("keeping");
    try {
      const answer = await request<Saved>("PUT", `/api/problems/${problem.id}`, { version, draft: sent });
      latest.current.version = answer.version;
      latest.current.kept = sent;
      setSaved(answer);
      setSaving(latest.current.draft === sent ? "kept" : "typing");
      client.setQueryData(problemQuery(problem.id).queryKey, (old) =>
        old ? { ...old, draft: sent, version: answer.version, kinds: answer.kinds, mistakes: answer.mistakes } : old,
      );
      client.invalidateQueries({ queryKey: ["problems"] });
      return true;
    } catch (error) {
      const status = error instanceof RequestError ? error.status : 0;
      if (status === 409) setSaving("conflict");
      else setSaving(status >= 400 && status < 500 ? "refused" : "offline");
      setTrouble(error instanceof Error ? error.message : String(error));
      return false;
    }
  }, [client, problem.id]);

  // One write at a time, after a pause in the typing; without a connection, again and again.
  useEffect(() => {
    if (draft === latest.current.kept || saving === "keeping" || saving === "conflict" || saving === "refused") return;
    const timer = setTimeout(keep, saving === "offline" ? 3000 : quiet);
    return () => clearTimeout(timer);
  }, [draft, saving, keep]);

  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (latest.current.draft !== latest.current.kept) event.preventDefault();
    };
    addEventListener("beforeunload", warn);
    return () => removeEventListener("beforeunload", warn);
  }, []);

  // What was typed just before the page is left inside the application is kept too.
  useEffect(() => () => void keep(), [keep]);

  const change = (says: string, next: (draft: Draft) => Draft) => {
    const changed = next(draft);
    if (changed === draft) return;
    const now = Date.now();
    const goesOn = lastChange.current.says === says && now - lastChange.current.at < together;
    lastChange.current = { says, at: now };
    if (!goesOn) setPast((all) => [...all.slice(-199), { says, draft }]);
    setFuture([]);
    setDraft(changed);
    setSaving((state) => (state === "kept" || state === "refused" ? "typing" : state));
  };
  const step = (from: Change[], setFrom: (all: Change[]) => void, setTo: (f: (all: Change[]) => Change[]) => void) => {
    const last = from.at(-1);
    if (!last) return;
    lastChange.current = { says: "", at: 0 };
    setFrom(from.slice(0, -1));
    setTo((all) => [...all, { says: last.says, draft }]);
    setDraft(last.draft);
    setSaving((state) => (state === "kept" || state === "refused" ? "typing" : state));
  };
  return {
    id: problem.id,
    draft,
    description,
    kinds: saved.kinds,
    mistakes: saved.mistakes,
    saving,
    trouble,
    change,
    undo: () => step(past, setPast, setFuture),
    redo: () => step(future, setFuture, setPast),
    canUndo: past.at(-1)?.says,
    canRedo: future.at(-1)?.says,
    flush: keep,
    keepMine: async () => {
      const theirs = await client.fetchQuery({ ...problemQuery(problem.id), staleTime: 0 });
      latest.current.version = theirs.version;
      setSaving("typing");
    },
    takeTheirs: async () => {
      const theirs = await client.fetchQuery({ ...problemQuery(problem.id), staleTime: 0 });
      setPast((all) => [...all, { says: "taking the other version", draft }]);
      latest.current = { draft: theirs.draft as Draft, version: theirs.version, kept: theirs.draft as Draft };
      setDraft(theirs.draft as Draft);
      setSaved(theirs);
      setSaving("kept");
    },
  };
}

/** namesOf returns the variables of a role as a list. */
export function namesOf(draft: Draft, role: string): string[] {
  const names = draft.roles[role];
  return names === undefined ? [] : Array.isArray(names) ? names : [names];
}

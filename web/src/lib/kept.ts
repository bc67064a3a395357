import { useCallback, useEffect, useRef, useState } from "react";
import { RequestError } from "../api/client";

/** How long nothing must be typed before the state is kept. */
const quiet = 500;
/** How long a change of the same name may go on to be one change for undo. */
const together = 1500;

/** Saving says how the kept state and the one on the screen stand to each other. */
export type Saving = "kept" | "typing" | "keeping" | "offline" | "conflict" | "refused";

/** A Keeper knows how to keep a state on the server. */
export interface Keeper<S> {
  /** Sends what is different; marks what the server has taken. Throws where it could not be kept. */
  save: (state: S, kept: S, mark: (kept: S) => void) => Promise<void>;
  /** Fetches the state that the server has, and bases what is saved next on it. */
  theirs: () => Promise<S>;
}

/** A Kept state is changed at once, kept as it is changed, and can undo every change. */
export interface Kept<S> {
  state: S;
  saving: Saving;
  /** Why the state could not be kept, if it could not. */
  trouble: string;
  /** Changes the state; says names the change for undo. */
  change: (says: string, next: (state: S) => S) => void;
  undo: () => void;
  redo: () => void;
  canUndo: string | undefined;
  canRedo: string | undefined;
  /** Keeps the state now; false where it could not be. */
  flush: () => Promise<boolean>;
  keepMine: () => void;
  takeTheirs: () => void;
}

interface Change<S> {
  says: string;
  state: S;
}

/** useKept holds a state that is kept on the server. */
export function useKept<S>(initial: S, keeper: Keeper<S>): Kept<S> {
  const [state, setState] = useState(initial);
  const [past, setPast] = useState<Change<S>[]>([]);
  const [future, setFuture] = useState<Change<S>[]>([]);
  const [saving, setSaving] = useState<Saving>("kept");
  const [trouble, setTrouble] = useState("");
  const latest = useRef({ state, kept: initial, keeper, running: null as Promise<boolean> | null });
  latest.current.state = state;
  latest.current.keeper = keeper;
  const lastChange = useRef({ says: "", at: 0 });

  const keepOnce = useCallback(async (): Promise<boolean> => {
    const { state: sent, kept } = latest.current;
    if (sent === kept) return true;
    setSaving("keeping");
    try {
      await latest.current.keeper.save(sent, kept, (taken) => {
        latest.current.kept = taken;
      });
      latest.current.kept = sent;
      setSaving(latest.current.state === sent ? "kept" : "typing");
      return true;
    } catch (error) {
      const status = error instanceof RequestError ? error.status : 0;
      if (status === 409) setSaving("conflict");
      else setSaving(status >= 400 && status < 500 ? "refused" : "offline");
      setTrouble(error instanceof Error ? error.message : String(error));
      return false;
    }
  }, []);

  // One write at a time: a second one waits for the first.
  const keep = useCallback(async (): Promise<boolean> => {
    while (latest.current.running) await latest.current.running;
    latest.current.running = keepOnce();
    try {
      return await latest.current.running;
    } finally {
      latest.current.running = null;
    }
  }, [keepOnce]);

  // After a pause in the typing; without a connection, again and again.
  useEffect(() => {
    if (saving === "keeping" || saving === "conflict") return;
    if (state === latest.current.kept) return setSaving("kept"); // undone before it was sent, perhaps
    if (saving === "refused") return;
    const timer = setTimeout(keep, saving === "offline" ? 3000 : quiet);
    return () => clearTimeout(timer);
  }, [state, saving, keep]);

  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (latest.current.state !== latest.current.kept) event.preventDefault();
    };
    addEventListener("beforeunload", warn);
    return () => removeEventListener("beforeunload", warn);
  }, []);

  // What was typed just before the page is left inside the application is kept too.
  useEffect(() => () => void keep(), [keep]);

  const moved = () => setSaving((now) => (now === "kept" || now === "refused" ? "typing" : now));
  const change = (says: string, next: (state: S) => S) => {
    const before = latest.current.state;
    const changed = next(before);
    if (changed === before) return;
    const now = Date.now();
    const goesOn = lastChange.current.says === says && now - lastChange.current.at < together;
    lastChange.current = { says, at: now };
    if (!goesOn) setPast((all) => [...all.slice(-199), { says, state: before }]);
    setFuture([]);
    latest.current.state = changed;
    setState(changed);
    moved();
  };
  const step = (
    from: Change<S>[],
    setFrom: (all: Change<S>[]) => void,
    setTo: (f: (all: Change<S>[]) => Change<S>[]) => void,
  ) => {
    const last = from.at(-1);
    if (!last) return;
    lastChange.current = { says: "", at: 0 };
    setFrom(from.slice(0, -1));
    setTo((all) => [...all, { says: last.says, state }]);
    setState(last.state);
    moved();
  };
  return {
    state,
    saving,
    trouble,
    change,
    undo: () => step(past, setPast, setFuture),
    redo: () => step(future, setFuture, setPast),
    canUndo: past.at(-1)?.says,
    canRedo: future.at(-1)?.says,
    flush: keep,
    keepMine: async () => {
      latest.current.kept = await keeper.theirs();
      setSaving("typing");
    },
    takeTheirs: async () => {
      const theirs = await keeper.theirs();
      setPast((all) => [...all, { says: "taking the other version", state }]);
      latest.current.kept = theirs;
      setState(theirs);
      setSaving("kept");
    },
  };
}

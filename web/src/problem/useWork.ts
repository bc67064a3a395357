import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { RequestError, request } from "../api/client";
import { beginWrite } from "../api/leaving";
import { problemQuery, workQuery } from "../api/queries";
import type { Problem, ProblemSet, Saved } from "../api/types";

/** How long nothing must change before a change is kept. */
const quiet = 700;

/** An Undo puts back what was there before a change. */
interface Undo {
  says: string;
  set: ProblemSet[];
}

/** merge lets a later value at a pointer take the place of an earlier one. */
function merge(before: ProblemSet[], set: ProblemSet[]): ProblemSet[] {
  return [...before.filter((old) => !set.some((next) => next.pointer === old.pointer)), ...set];
}

/**
 * useWork holds the solution of a problem while its settings are changed: the
 * solution follows at once, and when the person pauses the settings are kept.
 */
export function useWork(problem: Problem) {
  const client = useQueryClient();
  const [set, setSet] = useState<ProblemSet[]>([]);
  const [undos, setUndos] = useState<Undo[]>([]);
  const work = useQuery(workQuery(problem, set));
  const keep = useMutation({
    mutationFn: (kept: ProblemSet[]) => {
      const body = { version: problem.version, set: kept };
      const write = request<Saved>("PATCH", `/api/problems/${problem.id}/settings`, body);
      beginWrite(problem.id, write);
      return write;
    },
    onSuccess: async (saved, kept) => {
      // The new version is the old one with these settings, so its solution is known.
      const solution = client.getQueryData(workQuery(problem, kept).queryKey);
      if (solution) client.setQueryData(workQuery({ ...problem, version: saved.version }, []).queryKey, solution);
      const fresh = await client.fetchQuery({ ...problemQuery(problem.id), staleTime: 0 });
      if (fresh.version === saved.version) setSet((now) => (now === kept ? [] : now));
      client.invalidateQueries({ queryKey: ["problems"] });
    },
  });
  const conflict = keep.error instanceof RequestError && keep.error.status === 409;
  const { mutate, isPending } = keep;
  const failed = keep.isError;
  useEffect(() => {
    if (set.length === 0 || isPending || failed) return;
    const timer = setTimeout(() => mutate(set), quiet);
    return () => clearTimeout(timer);
  }, [set, isPending, failed, mutate]);

  // What was chosen is kept even when the page is left before the pause is over.
  const unkept = useRef({ set, version: problem.version });
  unkept.current = { set, version: problem.version };
  useEffect(() => {
    const flush = async () => {
      const { set: rest, version } = unkept.current;
      if (rest.length === 0) return;
      await fetch(`/api/problems/${problem.id}/settings`, {
        method: "PATCH",
        keepalive: true,
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ version, set: rest }),
      }).catch(() => {});
      client.invalidateQueries({ queryKey: problemQuery(problem.id).queryKey });
    };
    window.addEventListener("pagehide", flush);
    return () => {
      window.removeEventListener("pagehide", flush);
      beginWrite(problem.id, flush());
    };
  }, [problem.id, client]);

  const current = (pointer: string) => currentValue(pointer, set, problem, work.data?.controls);
  const change = (wanted: ProblemSet[], says: string) => {
    const next = wanted.map((each) => whole(each, set, problem));
    // What another procedure does not know is dropped, and comes back with the one that does.
    const pointers = next.map(({ pointer }) => pointer);
    const touched = pointers.includes("/procedure") ? [...pointers, "/roles", "/options", "/tail"] : pointers;
    const before = touched.map((pointer) => ({ pointer, value: current(pointer) }));
    setUndos((all) => [...all.slice(-99), { says, set: before }]);
    if (keep.isError && !conflict) keep.reset();
    setSet((now) => merge(now, next));
  };
  const undo = () => {
    const last = undos.at(-1);
    if (!last) return;
    setUndos(undos.slice(0, -1));
    setSet((now) => merge(now, last.set));
  };
  const takeTheirs = async () => {
    setSet([]);
    setUndos([]);
    keep.reset();
    await client.fetchQuery({ ...problemQuery(problem.id), staleTime: 0 });
  };
  const keepMine = async () => {
    const fresh = await client.fetchQuery({ ...problemQuery(problem.id), staleTime: 0 });
    client.setQueryData(problemQuery(problem.id).queryKey, fresh);
    keep.reset();
  };
  return { work, set, current, change, undo, lastUndo: undos.at(-1)?.says, keep, conflict, takeTheirs, keepMine };
}

/** whole turns an addition to a list, or a removal from it, into the list as it will be, which can be merged and undone. */
function whole(change: ProblemSet, set: ProblemSet[], problem: Problem): ProblemSet {
  const [, pointer = "", item = ""] = change.pointer.match(/^(.+)\/(-|\d+)$/) ?? [];
  const list = currentValue(pointer, set, problem, undefined);
  if (item === "-") return { pointer, value: [...(Array.isArray(list) ? list : []), change.value] };
  if (item !== "" && change.value === null && Array.isArray(list)) {
    return { pointer, value: list.filter((_, i) => i !== Number(item)) };
  }
  return change;
}

/** currentValue returns what stands at the pointer now, null where nothing does. */
function currentValue(
  pointer: string,
  set: ProblemSet[],
  problem: Problem,
  controls: { pointer: string; value: unknown }[] | undefined,
): unknown {
  const changed = set.find((each) => each.pointer === pointer);
  if (changed) return changed.value;
  const parts = set.filter((each) => each.pointer.startsWith(`${pointer}/`));
  if (parts.length > 0) {
    const whole = { ...(currentValue(pointer, [], problem, undefined) as Record<string, unknown> | null) };
    for (const part of parts) whole[part.pointer.slice(pointer.length + 1)] = part.value;
    return whole;
  }
  const control = controls?.find((each) => each.pointer === pointer);
  if (control) return control.value;
  let node: unknown = problem.draft;
  for (const step of pointer.split("/").slice(1)) {
    node = node && typeof node === "object" ? (node as Record<string, unknown>)[step] : undefined;
  }
  return node ?? null;
}

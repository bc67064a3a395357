import { lazy, Suspense, useMemo } from "react";
import type { Problem } from "../api/types";
import type { Mode } from "../problem/mode";
import { Unfinished } from "../problem/Unfinished";
import { Worked } from "../problem/Worked";
import { wireOf } from "../try/wires";

const Try = lazy(() => import("../try/Try").then((module) => ({ default: module.Try })));

/** Solved is a problem as it is seen in a mode; what it lacks where it cannot be worked yet. */
export function Solved({ problem, mode, onRead }: { problem: Problem; mode: Mode; onRead: () => void }) {
  const { id, shared } = problem;
  const wire = useMemo(() => wireOf({ id, shared }), [id, shared]);
  if (problem.mistakes.length > 0) return <Unfinished problem={problem} />;
  if (mode !== "try") return <Worked problem={problem} mode={mode} />;
  return (
    <Suspense fallback={<p className="p-8 text-muted">Fetching Try …</p>}>
      <Try problem={problem} wire={wire} onRead={onRead} />
    </Suspense>
  );
}

import { useEffect, useMemo, useSyncExternalStore } from "react";
import type { Problem } from "../api/types";
import { Answering } from "./answering";
import { wireOf } from "./wires";

/** useAnswering is the person's attempt at a problem. It looks for answers of other tabs when the page is come back to. */
export function useAnswering({ id, shared }: Pick<Problem, "id" | "shared">) {
  const wire = useMemo(() => wireOf({ id, shared }), [id, shared]);
  const answering = useMemo(() => new Answering(wire), [wire]);
  const standing = useSyncExternalStore(answering.subscribe, () => answering.standing);
  useEffect(() => {
    void answering.start();
    const look = () => {
      if (document.visibilityState === "visible") void answering.refresh();
    };
    document.addEventListener("visibilitychange", look);
    window.addEventListener("focus", look);
    return () => {
      document.removeEventListener("visibilitychange", look);
      window.removeEventListener("focus", look);
    };
  }, [answering]);
  return { answering, rows: wire.rows, ...standing };
}

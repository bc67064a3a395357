import { useEffect, useMemo, useSyncExternalStore } from "react";
import { Answering, type Wire } from "./answering";

/** useAnswering is the person's attempt at a problem. It looks for answers of other tabs when the page is come back to. */
export function useAnswering(wire: Wire) {
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
  return { answering, ...standing };
}

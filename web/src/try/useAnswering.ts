import { useEffect, useMemo, useSyncExternalStore } from "react";
import { request } from "../api/client";
import type { TrySheet } from "../api/types";
import { Answering, type Deed } from "./answering";

/** useAnswering is the person's attempt at a problem. It looks for answers of other tabs when the page is come back to. */
export function useAnswering(id: string) {
  const answering = useMemo(() => new Answering(wireOf(id)), [id]);
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

function wireOf(id: string) {
  const path = `/api/problems/${id}/try`;
  const key = `grund.try.${id}`;
  return {
    fetch: () => request<TrySheet>("GET", path),
    post: (body: unknown) => request<TrySheet>("POST", path, body, { outlives: true }),
    end: () => request<void>("DELETE", path),
    wait: (time: number) => new Promise<void>((resolve) => setTimeout(resolve, time)),
    save: (deeds: Deed[]) =>
      deeds.length > 0 ? localStorage.setItem(key, JSON.stringify(deeds)) : localStorage.removeItem(key),
    load: (): Deed[] => {
      try {
        const deeds = JSON.parse(localStorage.getItem(key) ?? "[]");
        return Array.isArray(deeds) ? deeds : [];
      } catch {
        return []; // written by something else
      }
    },
  };
}

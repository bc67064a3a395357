import { useEffect, useMemo, useSyncExternalStore } from "react";
import { request } from "../api/client";
import type { Standings } from "../api/types";
import { Watching } from "./watching";

/** useWatching keeps up with where a class stands with a set, for as long as the page is there. */
export function useWatching(set: string) {
  const watching = useMemo(
    () =>
      new Watching({
        fetch: (since) =>
          request<Standings>("GET", `/api/sets/${set}/class${since ? `?since=${encodeURIComponent(since)}` : ""}`),
        listen: (told) => {
          const source = new EventSource(`/api/sets/${set}/live`);
          source.onmessage = told;
          source.onopen = told; // something may have gone on while the line was broken
          return () => source.close();
        },
        wait: (time) => new Promise((resolve) => setTimeout(resolve, time)),
      }),
    [set],
  );
  useEffect(() => watching.start(), [watching]);
  const seen = useSyncExternalStore(watching.subscribe, () => watching.seen);
  return { ...seen, refresh: watching.refresh };
}

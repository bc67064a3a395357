import { useSyncExternalStore } from "react";

/** useMedia tells whether a media query holds, now and whenever that changes. */
export function useMedia(query: string): boolean {
  return useSyncExternalStore(
    (listener) => {
      const media = matchMedia(query);
      media.addEventListener("change", listener);
      return () => media.removeEventListener("change", listener);
    },
    () => matchMedia(query).matches,
  );
}

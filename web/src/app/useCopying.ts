import { useEffect, useRef, useState } from "react";

/** Copying is how a copy went, a moment ago. */
export type Copying = "ready" | "copied" | "failed";

/** copyingSays is what a screen reader is told of it. */
export const copyingSays: Record<Copying, string> = {
  ready: "",
  copied: "Copied",
  failed: "The browser did not allow copying",
};

/** useCopying copies, and knows for a moment whether it went well. */
export function useCopying(): { copying: Copying; run: (copy: () => Promise<void>) => void } {
  const [copying, setCopying] = useState<Copying>("ready");
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const say = (how: Copying) => {
    clearTimeout(timer.current);
    setCopying(how);
    timer.current = setTimeout(() => setCopying("ready"), 1600);
  };
  return {
    copying,
    run: (copy) => {
      copy().then(
        () => say("copied"),
        () => say("failed"),
      );
    },
  };
}

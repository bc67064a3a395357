import { useEffect } from "react";

/** Blank covers the page, so that a class looks up; any key or press brings it back. */
export function Blank({ onEnd }: { onEnd: () => void }) {
  useEffect(() => {
    const end = (event: KeyboardEvent) => {
      if (["Shift", "Control", "Alt", "Meta"].includes(event.key)) return;
      event.preventDefault();
      event.stopPropagation(); // it does nothing else: the next step is not given away
      onEnd();
    };
    window.addEventListener("keydown", end, true);
    return () => window.removeEventListener("keydown", end, true);
  }, [onEnd]);
  return (
    <button
      type="button"
      className="fixed inset-0 z-50 cursor-none bg-black text-transparent"
      // biome-ignore lint/a11y/noAutofocus: nothing else is to be reached while it is there
      autoFocus
      onClick={onEnd}
    >
      The page is blank. Press any key.
    </button>
  );
}

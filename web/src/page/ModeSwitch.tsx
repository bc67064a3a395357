import { useSearchParams } from "react-router";
import { useShortcuts } from "../lib/keys";
import { type Mode, modes } from "../problem/mode";

/** useMode is how the solution is seen, as the address has it. */
export function useMode(): [Mode, (next: Mode) => void] {
  const [params, setParams] = useSearchParams();
  const mode = modes.find((each) => each.mode === params.get("mode"))?.mode ?? "read";
  return [mode, (next) => setParams(next === "read" ? {} : { mode: next }, { replace: true })];
}

/** ModeSwitch chooses how the solution is seen. */
export function ModeSwitch({ mode, onMode }: { mode: Mode; onMode: (next: Mode) => void }) {
  useShortcuts([
    { key: "r", says: "Read: all steps", act: () => onMode("read") },
    { key: "s", says: "Reveal: step by step", act: () => onMode("reveal") },
    { key: "x", says: "Try: work it yourself", act: () => onMode("try") },
  ]);
  return (
    // biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame
    <div role="group" aria-label="How to see the solution" className="flex rounded-selector bg-base-200 p-0.5">
      {modes.map(({ mode: each, label }) => (
        <button
          key={each}
          type="button"
          aria-pressed={mode === each}
          className={`cursor-pointer rounded-[0.5rem] px-3 py-1 max-sm:px-1.5 max-sm:text-[0.88rem] ${mode === each ? "bg-raised font-semibold shadow-sm" : "text-muted hover:text-ink"}`}
          onClick={() => onMode(each)}
        >
          {label}
        </button>
      ))}
    </div>
  );
}

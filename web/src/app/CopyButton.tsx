import { Check, Copy, TriangleAlert } from "lucide-react";
import { useState } from "react";

interface Props {
  label: string;
  copy: () => Promise<void>;
  words?: string;
}

/** CopyButton copies, and says for a moment whether it did. */
export function CopyButton({ label, copy, words }: Props) {
  const [state, setState] = useState<"ready" | "copied" | "failed">("ready");
  const Icon = state === "copied" ? Check : state === "failed" ? TriangleAlert : Copy;
  const run = () =>
    copy().then(
      () => setState("copied"),
      () => setState("failed"),
    );
  return (
    <button
      type="button"
      className="screen-only btn btn-ghost btn-sm h-auto min-h-0 shrink-0 gap-1.5 px-1.5 py-1 font-normal text-muted"
      aria-label={words ? undefined : label}
      title={label}
      onClick={() => run().then(() => setTimeout(() => setState("ready"), 1600))}
    >
      <Icon size="1.1em" aria-hidden="true" />
      {words}
      <span className="sr-only" role="status">
        {state === "copied" ? "Copied" : state === "failed" ? "The browser did not allow copying" : ""}
      </span>
    </button>
  );
}

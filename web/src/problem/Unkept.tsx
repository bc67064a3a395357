import type { Keeping, Saving } from "../lib/keeping";

interface Props {
  kept: {
    saving: Saving;
    trouble: string;
    // biome-ignore lint/suspicious/noExplicitAny: what is kept does not matter here
    keeping: Keeping<any, any>;
  };
  /** Whether the problem is another's, and nothing is kept. */
  shared?: boolean;
  /** Why the solution could not be worked, where the one that is shown is the one before. */
  failure?: string;
}

/** Unkept says what of the changes is not kept or not shown, and what can be done about it. */
export function Unkept({ kept: { saving, trouble, keeping }, shared = false, failure }: Props) {
  if (saving === "conflict")
    return (
      <Bar
        says={`This problem was changed ${shared ? "by its owner" : "elsewhere"}. What you chose here is not lost; the solution below is the one before.`}
      >
        <button type="button" className="act" onClick={keeping.keepMine}>
          Keep what I chose here
        </button>
        <button type="button" className="act" onClick={keeping.takeTheirs}>
          Show the other version
        </button>
      </Bar>
    );
  if (saving === "refused")
    return (
      <Bar says={`${trouble} The solution below is the one before.`}>
        <button type="button" className="act" onClick={keeping.undo}>
          Undo it
        </button>
      </Bar>
    );
  if (saving === "offline" || saving === "signed-out")
    return (
      <Bar
        says={`The last change is not ${shared ? "worked" : "kept"} yet, and the solution below is the one before. ${trouble}`}
      >
        <button type="button" className="act" onClick={keeping.flush}>
          Try again
        </button>
      </Bar>
    );
  return failure ? <Bar says={`${failure} The solution below is the one before.`} /> : null;
}

function Bar({ says, children }: { says: string; children?: React.ReactNode }) {
  return (
    <div
      role="alert"
      className="flex flex-wrap items-center gap-x-6 gap-y-2 border-region border-b bg-base-200 px-6 py-2.5"
    >
      <span>{says}</span>
      {children}
    </div>
  );
}

import type { Action } from "../api/types";

interface Props {
  cases: number[];
  onCompare: (action: Action) => void;
  onNone: () => void;
}

/** ChosenCases says which cases are lit up, and offers the solution without them, beside this one. */
export function ChosenCases({ cases, onCompare, onNone }: Props) {
  const [first = 0] = cases;
  const named = cases.length === 1 ? `Case ${first}` : `${cases.length} cases`;
  const without = cases.length === 1 ? `Leave case ${first} out and compare` : "Leave them out and compare";
  return (
    <section
      aria-label="The cases chosen"
      className="screen-only fixed bottom-13 left-3 z-10 flex xl:max-w-58 flex-wrap items-baseline gap-x-4 gap-y-1 rounded-box border border-base-300 bg-sheet px-4 py-2 shadow-lg max-sm:right-3"
    >
      <span className="font-semibold">{named} chosen</span>
      <button
        type="button"
        className="act text-left"
        onClick={() =>
          onCompare({
            id: "leave-out-chosen",
            label: without,
            says: "Works the problem without what is chosen, beside this solution. Nothing is deleted.",
            set: cases.map((number) => ({
              pointer: "/leave_out/-",
              value: { case: number, reason: "chosen by hand" },
            })),
            compare: true,
          })
        }
      >
        {without}
      </button>
      <button type="button" className="act" onClick={onNone}>
        Choose none
      </button>
    </section>
  );
}

import { useId } from "react";
import type { Decimals as ByKind } from "../api/types";
import { useToast } from "../app/toasts";
import { type Chosen, decimalsForAll, rememberDecimals } from "../lib/decimals";
import { usePreference } from "../lib/preferences";
import { same } from "../lib/same";
import { useActions } from "../solution/actions";
import { useCurrent } from "../solution/current";

const kinds: { kind: keyof ByKind; label: string }[] = [
  { kind: "statistic", label: "statistics" },
  { kind: "p", label: "p" },
  { kind: "estimate", label: "estimates" },
  { kind: "expected", label: "expected counts" },
  { kind: "percent", label: "percentages" },
];

/** Decimals chooses how many decimals the whole solution shows, as homework asks for: of all numbers alike, or by kind. */
export function Decimals() {
  const current = useCurrent();
  const toast = useToast();
  const { change } = useActions();
  const id = useId();
  const chosen = (current("/decimals") ?? null) as Chosen;
  const byKind = typeof chosen === "object" && chosen !== null;
  const set = (value: Chosen) => change([{ pointer: "/decimals", value }], "decimals");
  const choose = (value: string) => {
    if (value === "kinds") return set({ p: 4 });
    set(value === "auto" ? null : Number(value));
  };
  const chooseKind = (kind: keyof ByKind, value: string) => {
    const { [kind]: _, ...others } = byKind ? chosen : {};
    set(value === "auto" ? others : { ...others, [kind]: Number(value) });
  };
  return (
    <div className="screen-only mt-3 grid gap-2 border-base-300 border-t pt-3 text-muted">
      <div className="flex items-center justify-between gap-3">
        <label htmlFor={id}>Decimals in the whole solution</label>
        <DecimalsSelect id={id} value={byKind ? "kinds" : String(chosen ?? "auto")} onChange={choose} kinds />
      </div>
      {byKind && (
        <div className="grid grid-cols-[1fr_auto] items-center gap-x-3 gap-y-1.5 pl-4">
          {kinds.map(({ kind, label }) => (
            <div key={kind} className="contents">
              <label htmlFor={`${id}-${kind}`}>{label}</label>
              <DecimalsSelect
                id={`${id}-${kind}`}
                value={String(chosen[kind] ?? "auto")}
                onChange={(value) => chooseKind(kind, value)}
              />
            </div>
          ))}
        </div>
      )}
      <NumeralsChoice />
      {!same(chosen, decimalsForAll()) && (
        <button
          type="button"
          className="btn btn-ghost btn-xs justify-self-end"
          onClick={() => {
            rememberDecimals(chosen);
            toast({ says: "New problems begin with these decimals; others stay as they are." });
          }}
        >
          Use for all my new problems
        </button>
      )}
    </div>
  );
}

/** NumeralsChoice chooses how numbers are written, in every problem. */
function NumeralsChoice() {
  const [mark, setMark] = usePreference("mark");
  const [zero, setZero] = usePreference("zero");
  const id = useId();
  return (
    <div className="grid grid-cols-[1fr_auto] items-center gap-x-3 gap-y-2">
      <label htmlFor={`${id}-mark`}>Decimal mark</label>
      <select
        id={`${id}-mark`}
        className="select select-sm w-auto bg-sheet text-ink"
        value={mark}
        onChange={(event) => setMark(event.target.value as typeof mark)}
      >
        <option value="point">point: 0.5</option>
        <option value="comma">comma: 0,5</option>
      </select>
      <label htmlFor={`${id}-zero`}>Zero before p, r and shares</label>
      <select
        id={`${id}-zero`}
        className="select select-sm w-auto bg-sheet text-ink"
        value={zero}
        onChange={(event) => setZero(event.target.value as typeof zero)}
      >
        <option value="kept">kept</option>
        <option value="dropped">dropped</option>
      </select>
    </div>
  );
}

interface SelectProps {
  id: string;
  value: string;
  onChange: (value: string) => void;
  /** Whether it may be chosen by kind. */
  kinds?: boolean;
}

function DecimalsSelect({ id, value, onChange, kinds: offered = false }: SelectProps) {
  return (
    <select
      id={id}
      className="select select-sm w-auto bg-sheet text-ink"
      value={value}
      onChange={(event) => onChange(event.target.value)}
    >
      <option value="auto">as needed</option>
      {[0, 1, 2, 3, 4, 5, 6].map((count) => (
        <option key={count} value={count}>
          {count}
        </option>
      ))}
      {offered && <option value="kinds">by kind</option>}
    </select>
  );
}

import { useId } from "react";
import { useActions } from "../solution/actions";
import { useCurrent } from "../solution/current";

/** Decimals chooses how many decimals the whole solution shows, as homework asks for. */
export function Decimals() {
  const current = useCurrent();
  const { change } = useActions();
  const id = useId();
  return (
    <div className="screen-only mt-3 flex items-center justify-between gap-3 border-base-300 border-t pt-3 text-muted">
      <label htmlFor={id}>Decimals in the whole solution</label>
      <select
        id={id}
        className="select select-sm w-auto bg-sheet text-ink"
        value={String(current("/decimals") ?? "auto")}
        onChange={(event) =>
          change(
            [{ pointer: "/decimals", value: event.target.value === "auto" ? null : Number(event.target.value) }],
            "decimals",
          )
        }
      >
        <option value="auto">as needed</option>
        {[0, 1, 2, 3, 4, 5, 6].map((count) => (
          <option key={count} value={count}>
            {count}
          </option>
        ))}
      </select>
    </div>
  );
}

import type { Quantity } from "../api/types";
import { useSolution } from "./solution";

/** withUnit returns a quantity as it is read: the number, and its unit if it has one. */
export function withUnit(quantity: Quantity): string {
  return quantity.unit ? `${quantity.display}\u00a0${quantity.unit}` : quantity.display;
}

/** NumberButton is a number that opens. */
export function NumberButton({ id, words, className = "" }: { id: string; words?: string; className?: string }) {
  const { quantities, open } = useSolution();
  const quantity = quantities.get(id);
  if (!quantity) return null;
  return (
    <button
      type="button"
      className={`number ${className}`}
      title={quantity.full}
      aria-haspopup="dialog"
      onClick={(event) => open(id, event.currentTarget)}
    >
      {words ?? withUnit(quantity)}
    </button>
  );
}

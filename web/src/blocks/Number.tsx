import type { Quantity } from "../api/types";
import { useToast } from "../app/toasts";
import { copyText } from "../lib/copy";
import { useActions } from "../solution/actions";
import { useSolution } from "../solution/solution";

/** withUnit returns a quantity as it is read: the number, and its unit if it has one. */
export function withUnit(quantity: Quantity): string {
  return quantity.unit ? `${quantity.display}\u00a0${quantity.unit}` : quantity.display;
}

interface Props {
  id: string;
  words?: string;
  className?: string;
  children?: React.ReactNode;
}

/** NumberButton is a number that opens; with the modifier key it copies all its digits. */
export function NumberButton({ id, words, className = "", children }: Props) {
  const { quantities } = useSolution();
  const { open } = useActions();
  const toast = useToast();
  const quantity = quantities.get(id);
  if (!quantity) {
    // A cell of a table, which has no digits of its own to copy.
    if (words === undefined) return null;
    return (
      <button
        type="button"
        className={`number ${className}`}
        aria-haspopup="dialog"
        onClick={(event) => open(id, event.currentTarget)}
      >
        {words}
      </button>
    );
  }
  return (
    <button
      type="button"
      className={`number ${className}`}
      title={quantity.full}
      aria-haspopup="dialog"
      onClick={(event) => {
        if (!event.ctrlKey && !event.metaKey) return open(id, event.currentTarget);
        copyText(quantity.full).then(
          () => toast({ says: `Copied ${quantity.full}` }),
          () => toast({ says: "The browser did not allow copying.", bad: true }),
        );
      }}
    >
      {children ?? words ?? withUnit(quantity)}
    </button>
  );
}

import { Search } from "lucide-react";
import { useRef } from "react";
import { useShortcuts } from "../lib/keys";

interface Props {
  /** What is looked through: “the problems”. */
  what: string;
  looked: string;
  onLook: (looked: string) => void;
}

/** Finder looks through a list for words. */
export function Finder({ what, looked, onLook }: Props) {
  const input = useRef<HTMLInputElement>(null);
  useShortcuts([{ key: "/", says: `Look through ${what}`, act: () => input.current?.focus() }]);
  return (
    <label className="input input-sm w-64 max-w-full bg-sheet">
      <Search size="1em" aria-hidden="true" className="text-muted" />
      <input
        ref={input}
        type="search"
        aria-label={`Look through ${what}`}
        placeholder="Find"
        value={looked}
        onChange={(event) => onLook(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && onLook("")}
      />
    </label>
  );
}

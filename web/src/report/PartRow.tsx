import { Pilcrow, Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import { useSortableRow } from "../app/Sortable";

interface Props {
  id: string;
  /** What the part is called: "part 3". */
  name: string;
  children: ReactNode;
  onWriteBelow: () => void;
  onRemove: () => void;
}

const quietly = "opacity-0 focus-visible:opacity-100 group-hover/part:opacity-100 pointer-coarse:opacity-100";
const quiet = `btn btn-ghost btn-xs btn-square ${quietly}`;

/** PartRow is a part of a report with its grip: it is dragged, by key too. */
export function PartRow({ id, name, children, onWriteBelow, onRemove }: Props) {
  const { ref, style, isDragging, grip } = useSortableRow(id, name, `${quietly} mt-0.5`);
  return (
    <li
      ref={ref}
      data-part={id}
      style={style}
      className={`group/part grid grid-cols-[1.8rem_minmax(0,1fr)_auto] gap-1 rounded-box py-2 ${isDragging ? "relative z-10 bg-base-200 opacity-80 shadow-lg" : ""}`}
    >
      {grip}
      <div className="min-w-0">{children}</div>
      <span className="flex max-sm:flex-col">
        <button
          type="button"
          className={quiet}
          aria-label={`Write below ${name}`}
          title="Write a paragraph below"
          onClick={onWriteBelow}
        >
          <Pilcrow size="1.15em" aria-hidden="true" />
        </button>
        <button
          type="button"
          className={quiet}
          aria-label={`Take ${name} out`}
          title="Take it out of the report"
          onClick={onRemove}
        >
          <Trash2 size="1.15em" aria-hidden="true" />
        </button>
      </span>
    </li>
  );
}

import { Printer } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import type { SetView } from "../api/types";
import { Dialog } from "../app/Dialog";
import { SheetSize } from "../app/PaperHead";
import { printPaper, usePaper } from "../lib/paper";

/** How many copies with numbers of their own a set on paper has at most, as the server has it. */
const most = 60;

/** OnPaper prints a set to be worked by hand, with its keys behind. */
export function OnPaper({ set, onClose }: { set: SetView; onClose: () => void }) {
  const [paper, setPaper] = usePaper();
  const [typed, setTyped] = useState("12");
  const other = set.settings.other_numbers === true;
  const copies = other ? Number(typed) : 1;
  const right = Number.isInteger(copies) && copies >= 1 && copies <= most;
  const url = `/api/sets/${set.id}/paper?${new URLSearchParams({ sheets: String(copies), size: paper.size })}`;
  return (
    <Dialog title="On paper" onClose={onClose}>
      <p className="text-muted">
        {other
          ? "Each copy has numbers of its own and a code. The keys come behind, under the same codes."
          : "Everybody has the same numbers: one copy is printed, with its key behind."}
      </p>
      <div className="mt-4 flex flex-wrap items-end gap-x-6 gap-y-3">
        {other && (
          <label className="grid gap-1">
            <span className="text-muted">Copies</span>
            <input
              className="input w-24 bg-sheet"
              type="number"
              min={1}
              max={most}
              value={typed}
              aria-invalid={!right}
              onChange={(event) => setTyped(event.target.value)}
            />
          </label>
        )}
        <SheetSize size={paper.size} onSize={(size) => setPaper({ ...paper, size })} />
      </div>
      {!right && (
        <p role="alert" className="mt-2 text-(--region-text)">
          It must be a whole number from 1 to {most}.
        </p>
      )}
      <div className="mt-4 flex flex-wrap gap-3">
        <button type="button" className="btn btn-primary" disabled={!right} onClick={() => printPaper(url)}>
          <Printer size="1.1em" aria-hidden="true" />
          Print
        </button>
        {right && (
          <a href={url} target="_blank" rel="noreferrer" className="btn">
            Look at it
          </a>
        )}
      </div>
      <p className="mt-6">
        <Link to={`/sets/${set.id}/keys`} className="act">
          The right answers of everybody on the roster
        </Link>
      </p>
    </Dialog>
  );
}

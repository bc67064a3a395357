import type { Paper } from "../lib/paper";

/** PaperHead asks for what every document has at its head, and for the sheets. */
export function PaperHead({ paper, onSet }: { paper: Paper; onSet: (part: Partial<Paper>) => void }) {
  return (
    <>
      <div className="mt-3 grid gap-3 sm:grid-cols-2">
        {(["name", "course"] as const).map((each) => (
          <label key={each} className="grid gap-1">
            <span className="text-muted">{each === "name" ? "Name" : "Course"}</span>
            <input
              className="input w-full bg-sheet"
              maxLength={200}
              value={paper[each]}
              onChange={(event) => onSet({ [each]: event.target.value })}
            />
          </label>
        ))}
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-x-6 gap-y-2">
        <label className="flex cursor-pointer items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={paper.dated}
            onChange={(event) => onSet({ dated: event.target.checked })}
          />
          with today’s date
        </label>
        <SheetSize size={paper.size} onSize={(size) => onSet({ size })} />
      </div>
    </>
  );
}

/** SheetSize asks for the sheets that the printer takes. */
export function SheetSize({ size, onSize }: { size: Paper["size"]; onSize: (size: Paper["size"]) => void }) {
  return (
    <label className="flex items-center gap-2">
      <span className="text-muted">Sheets</span>
      <select
        className="select select-sm w-auto bg-sheet"
        value={size}
        onChange={(event) => onSize(event.target.value as Paper["size"])}
      >
        <option value="a4">A4</option>
        <option value="letter">US letter</option>
      </select>
    </label>
  );
}

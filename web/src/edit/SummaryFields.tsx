import { Plus, X } from "lucide-react";
import type { DraftGroup } from "../api/types";
import { useDraft } from "./draft";
import { Field, inputLook, Mistake } from "./Field";

const fields: { id: keyof DraftGroup; label: string }[] = [
  { id: "label", label: "group" },
  { id: "n", label: "n" },
  { id: "mean", label: "mean" },
  { id: "sd", label: "sd" },
];

/** SummaryFields are a row for each group, as a textbook gives them when it gives no cases. */
export function SummaryFields() {
  const { draft, change, mistakes } = useDraft();
  const set = (row: number, field: keyof DraftGroup, value: string) =>
    change(`${field} of group ${row + 1}`, (d) => ({
      ...d,
      summary: d.summary.map((group, i) => (i === row ? { ...group, [field]: value } : group)),
    }));
  const heading = (which: "response" | "group", field: "label" | "unit", value: string) =>
    change(`${which} ${field}`, (d) => ({ ...d, [which]: { ...d[which], [field]: value } }));
  const paste = (event: React.ClipboardEvent, row: number, column: number) => {
    const text = event.clipboardData.getData("text/plain");
    if (!/[\t\n]/.test(text.trimEnd())) return; // a single cell pastes as usual
    event.preventDefault();
    const lines = text
      .trimEnd()
      .split(/\r?\n/)
      .map((line) => line.split("\t"));
    change("paste", (d) => {
      const summary = [...d.summary];
      lines.forEach((cells, i) => {
        const group = { ...(summary[row + i] ?? { label: "", n: "", mean: "", sd: "" }) };
        cells.forEach((cell, j) => {
          const field = fields[column + j];
          if (field) group[field.id] = cell.trim();
        });
        summary[row + i] = group;
      });
      return { ...d, summary };
    });
  };
  const wrong = mistakes.filter((mistake) => mistake.pointer.startsWith("/summary"));
  return (
    <>
      <p className="text-muted">A row for each group, as a textbook gives them when it gives no cases.</p>
      <div className="grid gap-4 sm:grid-cols-[1fr_6rem_1fr]">
        <Field label="What was measured">
          {(field) => (
            <input
              {...field}
              className={inputLook}
              placeholder="Loading time"
              value={draft.response.label ?? ""}
              onChange={(event) => heading("response", "label", event.target.value)}
            />
          )}
        </Field>
        <Field label="Its unit">
          {(field) => (
            <input
              {...field}
              className={inputLook}
              placeholder="min"
              value={draft.response.unit ?? ""}
              onChange={(event) => heading("response", "unit", event.target.value)}
            />
          )}
        </Field>
        <Field label="What the groups are">
          {(field) => (
            <input
              {...field}
              className={inputLook}
              placeholder="Berth"
              value={draft.group.label ?? ""}
              onChange={(event) => heading("group", "label", event.target.value)}
            />
          )}
        </Field>
      </div>
      <div className="overflow-x-auto">
        <table className="rounded-field border border-base-300 bg-sheet">
          <thead>
            <tr className="bg-base-200">
              {fields.map((field) => (
                <th
                  key={field.id}
                  scope="col"
                  className="border-base-300 border-r border-b px-2 py-1 text-left font-semibold"
                >
                  {field.label}
                </th>
              ))}
              <td className="border-base-300 border-b" />
            </tr>
          </thead>
          <tbody>
            {draft.summary.map((group, row) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a group is its place
              <tr key={row}>
                {fields.map((field, column) => {
                  const mistake = mistakes.find((each) => each.pointer === `/summary/${row}/${field.id}`);
                  return (
                    <td key={field.id} className="border-base-300 border-r border-b p-0">
                      <input
                        data-summary={`${row}/${column}`}
                        aria-label={`${field.label} of group ${row + 1}`}
                        aria-invalid={mistake !== undefined}
                        title={mistake?.says}
                        className={`w-32 bg-transparent px-2 py-1 outline-none focus:bg-base-200 focus:ring-2 focus:ring-primary focus:ring-inset aria-invalid:bg-region/15 ${field.id === "label" ? "" : "text-right"}`}
                        value={group[field.id]}
                        onChange={(event) => set(row, field.id, event.target.value)}
                        onPaste={(event) => paste(event, row, column)}
                      />
                    </td>
                  );
                })}
                <td className="border-base-300 border-b px-1">
                  {draft.summary.length > 2 && (
                    <button
                      type="button"
                      className="btn btn-ghost btn-xs btn-square"
                      aria-label={`Remove group ${row + 1}`}
                      onClick={() =>
                        change("remove a group", (d) => ({ ...d, summary: d.summary.filter((_, i) => i !== row) }))
                      }
                    >
                      <X size="1em" aria-hidden="true" />
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <button
        type="button"
        className="act justify-self-start"
        onClick={() =>
          change("add a group", (d) => ({ ...d, summary: [...d.summary, { label: "", n: "", mean: "", sd: "" }] }))
        }
      >
        <Plus size="1em" className="mr-1 inline" aria-hidden="true" />
        Another group
      </button>
      <div role="alert">
        {wrong.slice(0, 4).map((mistake) => (
          <Mistake key={mistake.pointer + mistake.says} says={mistake.says} instead={mistake.instead} />
        ))}
      </div>
    </>
  );
}

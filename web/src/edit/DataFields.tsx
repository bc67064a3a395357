import type { Draft, DraftColumn, Entry } from "../api/types";
import { useDraft } from "./draft";
import { Field, inputLook } from "./Field";
import { Grid } from "./Grid";

const entries: { value: Entry; label: string; says: string }[] = [
  {
    value: "cases",
    label: "A row a case",
    says: "One column holds what was measured, another the group. Paste from a spreadsheet into any cell; a first row of names is recognised.",
  },
  {
    value: "columns",
    label: "A column a group",
    says: "Each column holds the values of one group, and its name is the group’s. The columns may differ in length.",
  },
  {
    value: "summary",
    label: "Only n, mean and sd",
    says: "A row for each group, as a textbook gives them when it gives no cases.",
  },
];

const summaryNames = ["label", "n", "mean", "sd"];
const blankColumn = (name = ""): DraftColumn => ({ name, label: "", unit: "", kind: "", cells: [] });

/** blankColumns returns the empty columns that a form of entry starts with. */
function blankColumns(entry: Entry): DraftColumn[] {
  return entry === "summary" ? summaryNames.map((name) => blankColumn(name)) : [blankColumn(), blankColumn()];
}

/** DataFields are the data, in one of three forms. */
export function DataFields() {
  const { draft, change } = useDraft();
  const form = entries.find((entry) => entry.value === draft.entry);
  const take = (entry: Entry) => {
    if (entry === draft.entry) return;
    // What was typed in the present form is put by, and comes back with it.
    change("form of the data", (d) => ({
      ...d,
      entry,
      columns: d.put_by?.[entry] ?? blankColumns(entry),
      put_by: { ...d.put_by, [d.entry]: d.columns },
    }));
  };
  return (
    <>
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame */}
      <div
        role="group"
        aria-label="Form of the data"
        className="flex w-fit flex-wrap rounded-selector bg-base-200 p-0.5"
      >
        {entries.map((entry) => (
          <button
            key={entry.value}
            type="button"
            aria-pressed={entry.value === draft.entry}
            className={`cursor-pointer rounded-[0.5rem] px-3 py-1 ${entry.value === draft.entry ? "bg-raised font-semibold shadow-sm" : "text-muted hover:text-ink"}`}
            onClick={() => take(entry.value)}
          >
            {entry.label}
          </button>
        ))}
      </div>
      <p className="text-muted">{form?.says}</p>
      {draft.entry !== "cases" && <Headings draft={draft} />}
      <Grid key={draft.entry} />
    </>
  );
}

/** Headings name the response and the groups, where no column does. */
function Headings({ draft }: { draft: Draft }) {
  const { change } = useDraft();
  const set = (which: "response" | "group", field: "label" | "unit", value: string) =>
    change(`${which} ${field}`, (d) => ({ ...d, [which]: { ...d[which], [field]: value } }));
  return (
    <div className="grid gap-4 sm:grid-cols-[1fr_6rem_1fr]">
      <Field label="What was measured">
        {(field) => (
          <input
            {...field}
            className={inputLook}
            placeholder="Loading time"
            value={draft.response.label ?? ""}
            onChange={(e) => set("response", "label", e.target.value)}
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
            onChange={(e) => set("response", "unit", e.target.value)}
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
            onChange={(e) => set("group", "label", e.target.value)}
          />
        )}
      </Field>
    </div>
  );
}

import type { DataForm } from "../api/types";
import { useSheet } from "./context";

const forms: { value: DataForm; label: string; says: string }[] = [
  {
    value: "cases",
    label: "A row a case",
    says: "One column for each variable; a category says which group a case is of.",
  },
  {
    value: "groups",
    label: "A column a group",
    says: "Each column holds the values of one group, and its name is the group’s. The columns may differ in length.",
  },
  {
    value: "counts",
    label: "A table of counts",
    says: "The first column holds labels, the others how often each was counted.",
  },
];

const input = "input input-sm w-40 bg-sheet";

/** FormSwitch says what the rows and columns are, and names what has no column of its own. */
export function FormSwitch({ more }: { more?: React.ReactNode }) {
  const { sheet, change } = useSheet();
  const set = (which: "response" | "group", field: "label" | "unit", value: string) =>
    change(`${field} of the ${which}`, (s) => ({ ...s, [which]: { ...s[which], [field]: value } }));
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5">
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame */}
      <div
        role="group"
        aria-label="Form of the data"
        className="flex w-fit flex-wrap rounded-selector bg-base-200 p-0.5"
      >
        {forms.map((form) => (
          <button
            key={form.value}
            type="button"
            aria-pressed={form.value === sheet.form}
            title={form.says}
            className={`cursor-pointer rounded-[0.5rem] px-2.5 py-0.5 ${form.value === sheet.form ? "bg-raised font-semibold shadow-sm" : "text-muted hover:text-ink"}`}
            onClick={() => change("form of the data", (s) => ({ ...s, form: form.value }))}
          >
            {form.label}
          </button>
        ))}
        {more}
      </div>
      {sheet.form === "groups" && (
        <>
          <Named
            label="What was measured"
            placeholder="Loading time"
            value={sheet.response.label ?? ""}
            onChange={(value) => set("response", "label", value)}
          />
          <Named
            label="Its unit"
            placeholder="min"
            value={sheet.response.unit ?? ""}
            onChange={(value) => set("response", "unit", value)}
          />
        </>
      )}
      {sheet.form !== "cases" && (sheet.form === "groups" || sheet.columns.length > 2) && (
        <Named
          label={sheet.form === "groups" ? "What the groups are" : "What the columns are"}
          placeholder={sheet.form === "groups" ? "Berth" : "Ticket"}
          value={sheet.group.label ?? ""}
          onChange={(value) => set("group", "label", value)}
        />
      )}
    </div>
  );
}

interface NamedProps {
  label: string;
  placeholder: string;
  value: string;
  onChange: (value: string) => void;
}

function Named({ label, placeholder, value, onChange }: NamedProps) {
  return (
    <label className="flex items-center gap-1.5">
      <span className="text-muted">{label}</span>
      <input
        aria-label={label}
        className={label === "Its unit" ? "input input-sm w-16 bg-sheet" : input}
        placeholder={placeholder}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}

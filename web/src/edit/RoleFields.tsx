import type { Draft, Kind, ProcedureRole } from "../api/types";
import { namesOf, useDraft } from "./draft";
import { Field, inputLook } from "./Field";

/** RoleFields say which variable plays which role, and which group comes first. */
export function RoleFields() {
  const { draft, description, kinds, change } = useDraft();
  return (
    <>
      {draft.entry === "cases" ? (
        <div className="grid gap-4 sm:grid-cols-2">
          {description.roles.map((role) => (
            <RoleField key={role.id} role={role} draft={draft} kinds={kinds} />
          ))}
        </div>
      ) : (
        <p className="text-muted">The groups and what was measured are named with the data.</p>
      )}
      <GroupOrder />
      {draft.entry === "cases" && (
        <Field
          label="What was measured, in words"
          hint="As it stands in the sentences: “loading time”. The name of the column serves if this is empty."
        >
          {(field) => {
            const response = namesOf(draft, "response")[0];
            const at = draft.columns.findIndex((column) => column.name.trim() === response);
            return (
              <input
                {...field}
                className={inputLook}
                disabled={at < 0}
                placeholder="Loading time"
                value={draft.columns[at]?.label ?? ""}
                onChange={(event) =>
                  change("label", (d) => ({
                    ...d,
                    columns: d.columns.map((c, i) => (i === at ? { ...c, label: event.target.value } : c)),
                  }))
                }
              />
            );
          }}
        </Field>
      )}
    </>
  );
}

interface RoleProps {
  role: ProcedureRole;
  draft: Draft;
  kinds: Kind[];
}

function RoleField({ role, draft, kinds }: RoleProps) {
  const { change } = useDraft();
  const named = draft.columns
    .map((column, i) => ({ name: column.name.trim(), kind: kinds[i] }))
    .filter((column) => column.name !== "");
  const current = namesOf(draft, role.id)[0] ?? "";
  return (
    <Field label={`${role.label}: ${role.says}`} pointer={`/roles/${role.id}`}>
      {(field) => (
        <select
          {...field}
          className="select w-full bg-sheet aria-invalid:border-region"
          value={current}
          onChange={(event) =>
            change("role", (d) => {
              const roles = { ...d.roles };
              if (event.target.value) roles[role.id] = event.target.value;
              else delete roles[role.id];
              return { ...d, roles };
            })
          }
        >
          <option value="">choose a column</option>
          {current !== "" && !named.some((column) => column.name === current) && (
            <option value={current}>{current} (no such column)</option>
          )}
          {named.map((column) => (
            <option key={column.name} value={column.name}>
              {column.name} ({column.kind})
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}

/** groupsOf returns the levels of the group variable in their order. */
function groupsOf(draft: Draft): string[] {
  if (draft.entry === "columns") return draft.columns.map((column) => column.name.trim()).filter((name) => name !== "");
  if (draft.entry === "summary")
    return (draft.columns[0]?.cells ?? []).map((cell) => cell.trim()).filter((cell) => cell !== "");
  const name = namesOf(draft, "group")[0];
  const column = draft.columns.find((each) => each.name.trim() === name);
  if (!column) return [];
  return column.levels ?? [...new Set(column.cells.map((cell) => cell.trim()).filter((cell) => cell !== ""))];
}

/** GroupOrder chooses which two groups are compared, and which comes first. */
function GroupOrder() {
  const { draft, change } = useDraft();
  const levels = groupsOf(draft);
  if (levels.length < 2 || levels.length > 30) return null;
  const option = draft.options.groups;
  const chosen = Array.isArray(option) ? option.map(String) : levels.slice(0, 2);
  const names = draft.columns.find((each) => each.name.trim() === namesOf(draft, "group")[0])?.level_names ?? {};
  const set = (at: number, value: string) =>
    change("order of the groups", (d) => {
      const next = [...chosen];
      const other = 1 - at;
      if (next[other] === value) next[other] = next[at] ?? "";
      next[at] = value;
      return { ...d, options: { ...d.options, groups: next } };
    });
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      {["First group", "Second group, taken from the first"].map((label, at) => (
        <Field key={label} label={label} pointer={`/options/groups/${at}`}>
          {(field) => (
            <select
              {...field}
              className="select w-full bg-sheet"
              value={chosen[at] ?? ""}
              onChange={(event) => set(at, event.target.value)}
            >
              {!levels.includes(chosen[at] ?? "") && <option value={chosen[at]}>{chosen[at]} (no such group)</option>}
              {levels.map((level) => (
                <option key={level} value={level}>
                  {names[level] ?? level}
                </option>
              ))}
            </select>
          )}
        </Field>
      ))}
    </div>
  );
}

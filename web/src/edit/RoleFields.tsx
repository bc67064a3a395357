import { useMemo } from "react";
import type { DescribeRole, Kind } from "../api/types";
import { setColumn } from "../data/sheet";
import { mistakeSentence } from "../lib/words";
import { useDraftSheet } from "./DataFields";
import { useDraft } from "./draft";
import { Field, inputLook } from "./Field";
import { levelsOf } from "./levels";
import { namesOf } from "./roles";
import { ProcedureField } from "./TestFields";

/** RoleFields say which variable plays which role, and which group comes first. */
export function RoleFields() {
  const { draft, description } = useDraft();
  const { sheet, change } = useDraftSheet();
  const cases = draft.entry === "data" && sheet.form === "cases";
  const response = namesOf(draft, "response")[0];
  const at = sheet.columns.findIndex((column) => column.name.trim() === response);
  return (
    <>
      <ProcedureField />
      {cases ? (
        <div className="grid gap-4 sm:grid-cols-2">
          {description.roles.map((role) =>
            role.max === 1 ? <RoleField key={role.id} role={role} /> : <SeveralField key={role.id} role={role} />,
          )}
        </div>
      ) : (
        <p className="text-muted">The groups and what was measured are named with the data.</p>
      )}
      {description.options.some((option) => option.id === "groups") && <GroupOrder />}
      {cases && description.roles.some((role) => role.id === "response") && (
        <Field
          label="What was measured, in words"
          hint="As it stands in the sentences: “loading time”. The name of the column serves if this is empty."
        >
          {(field) => (
            <input
              {...field}
              className={inputLook}
              disabled={at < 0}
              placeholder="Loading time"
              value={sheet.columns[at]?.label ?? ""}
              onChange={(event) =>
                change("label", (s) => setColumn(s, at, (column) => ({ ...column, label: event.target.value })))
              }
            />
          )}
        </Field>
      )}
    </>
  );
}

const kindWords: Record<Kind, string> = {
  "": "",
  number: "a number",
  category: "a category",
  identifier: "an identifier",
};

function RoleField({ role }: { role: DescribeRole }) {
  const { draft, change } = useDraft();
  const { sheet, profiles, change: changeSheet } = useDraftSheet();
  const named = sheet.columns
    .map((column): { name: string; kind: Kind } => ({
      name: column.name.trim(),
      kind: column.kind || profiles.get(column.key)?.kind || "",
    }))
    .filter((column) => column.name !== "");
  const current = namesOf(draft, role.id)[0] ?? "";
  const chosen = named.find((column) => column.name === current);
  const wanted = role.kinds[0];
  // A number used as a category, or the other way about, is asked about here.
  const other = chosen && chosen.kind !== "" && wanted && !role.kinds.includes(chosen.kind);
  return (
    <div className="grid content-start gap-1">
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
            {current !== "" && !chosen && <option value={current}>{current} (no such column)</option>}
            {named.map((column) => (
              <option key={column.name} value={column.name}>
                {column.kind ? `${column.name} (${column.kind})` : column.name}
              </option>
            ))}
          </select>
        )}
      </Field>
      {other && (
        <p>
          “{current}” is {kindWords[chosen.kind]}, and {kindWords[wanted]} is needed here.{" "}
          <button
            type="button"
            className="act"
            onClick={() =>
              changeSheet(`kind of ${current}`, (s) => {
                const at = s.columns.findIndex((column) => column.name.trim() === current);
                return setColumn(s, at, (column) => ({ ...column, kind: wanted }));
              })
            }
          >
            Use it as {kindWords[wanted]}
          </button>
        </p>
      )}
    </div>
  );
}

/** SeveralField ticks the variables that play a role together; they keep the order in which they were ticked. */
function SeveralField({ role }: { role: DescribeRole }) {
  const { draft, change, mistakes } = useDraft();
  const { sheet, profiles } = useDraftSheet();
  const chosen = namesOf(draft, role.id);
  const elsewhere = Object.keys(draft.roles)
    .filter((id) => id !== role.id)
    .flatMap((id) => namesOf(draft, id));
  const fitting = sheet.columns
    .map((column) => ({ name: column.name.trim(), kind: column.kind || profiles.get(column.key)?.kind || "" }))
    .filter(({ name, kind }) => name !== "" && role.kinds.some((each) => each === kind) && !elsewhere.includes(name));
  const missing = chosen.filter((name) => !fitting.some((column) => column.name === name));
  const wrong = mistakes.find((mistake) => mistake.pointer.startsWith(`/roles/${role.id}`));
  const set = (names: string[]) =>
    change(role.label, (d) => {
      const roles = { ...d.roles, [role.id]: names };
      if (names.length === 0) delete roles[role.id];
      return { ...d, roles };
    });
  return (
    <fieldset className="grid content-start gap-1" aria-describedby={wrong ? `${role.id}-mistake` : undefined}>
      <legend className="mb-1">{`${role.label}: ${role.says}`}</legend>
      {[...fitting.map(({ name }) => name), ...missing].map((name) => (
        <label key={name} className="flex cursor-pointer items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm bg-sheet"
            checked={chosen.includes(name)}
            onChange={(event) => set(event.target.checked ? [...chosen, name] : chosen.filter((each) => each !== name))}
          />
          {missing.includes(name) ? `${name} (cannot play this role)` : name}
        </label>
      ))}
      {fitting.length === 0 && missing.length === 0 && <p className="text-muted">No column can play this role.</p>}
      {wrong && (
        <p id={`${role.id}-mistake`} className="text-(--region-text)">
          {mistakeSentence(wrong)}
        </p>
      )}
    </fieldset>
  );
}

/** GroupOrder chooses which two groups are compared, and which comes first. */
function GroupOrder() {
  const { draft, change } = useDraft();
  const { sheet, derived, profiles } = useDraftSheet();
  const { codes: levels, names } = useMemo(
    () => levelsOf(draft, { sheet, derived, profiles }, "group"),
    [draft, sheet, derived, profiles],
  );
  if (levels.length < 2 || levels.length > 30) return null;
  const option = draft.options.groups;
  const chosen = Array.isArray(option) ? option.map(String) : levels.slice(0, 2);
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

import { useState } from "react";
import type { Draft, Option, Tail } from "../api/types";
import { readNamed, readNames, readNumber, readNumbers, readPlaces, writeValue } from "../lib/number";
import { pointerTo } from "../lib/pointer";
import { upperFirst } from "../lib/words";
import { useDraftSheet } from "./DataFields";
import { useDraft } from "./draft";
import { Field, inputLook } from "./Field";
import { type Levels, levelsOf, levelsOfVariable } from "./levels";
import { namesOf } from "./roles";

const tails: { value: Tail; says: string }[] = [
  { value: "both", says: "it differs, on either side (two tails)" },
  { value: "left", says: "it is lower (left tail)" },
  { value: "right", says: "it is higher (right tail)" },
];

/** ProcedureField chooses what is asked. What the other procedure knows of the problem is carried over. */
export function ProcedureField() {
  const { draft, description, procedures, change } = useDraft();
  const take = (id: string) => {
    const next = procedures.find((each) => each.id === id);
    if (!next) return;
    change("what is asked", (d) => ({
      ...d,
      procedure: id,
      tail: next.tails ? d.tail : "both",
      roles: Object.fromEntries(
        Object.entries(d.roles).filter(([role]) => next.roles.some((each) => each.id === role)),
      ),
      options: Object.fromEntries(
        Object.entries(d.options).filter(([option]) => next.options.some((each) => each.id === option)),
      ),
    }));
  };
  return (
    <Field label="What is asked" pointer="/procedure" hint={`Also called ${description.also_called.join(", ")}.`}>
      {(field) => (
        <select
          {...field}
          className="select w-full bg-sheet"
          value={draft.procedure}
          onChange={(event) => take(event.target.value)}
        >
          {procedures.map((each) => (
            <option key={each.id} value={each.id}>
              {each.asks} ({each.title})
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}

/** TestFields are alpha, the tail and the procedure's own options. */
export function TestFields() {
  const { draft, description, change } = useDraft();
  const set = (option: Option, value: unknown) => change(option.label, (d) => withOption(d, option.id, value));
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <Field label="Alpha, chosen before looking" pointer="/alpha">
        {(field) => (
          <input
            {...field}
            className={inputLook}
            inputMode="decimal"
            value={draft.alpha}
            onChange={(event) => change("alpha", (d) => ({ ...d, alpha: event.target.value }))}
          />
        )}
      </Field>
      <Field
        label="Level of the intervals"
        pointer="/confidence"
        hint="1 − α unless the question asks for another, so that interval and test tell the same."
      >
        {(field) => (
          <select
            {...field}
            className="select w-full bg-sheet"
            value={draft.confidence ?? ""}
            onChange={(event) =>
              change("level of the intervals", (d) => ({
                ...d,
                confidence: event.target.value === "" ? undefined : Number(event.target.value),
              }))
            }
          >
            <option value="">1 − α</option>
            {[...new Set([0.8, 0.9, 0.95, 0.98, 0.99, 0.999, draft.confidence ?? 0.95])].sort().map((level) => (
              <option key={level} value={level}>
                {level}
              </option>
            ))}
          </select>
        )}
      </Field>
      {description.tails && (
        <Field label="H₁ says that" pointer="/tail">
          {(field) => (
            <select
              {...field}
              className="select w-full bg-sheet"
              value={draft.tail}
              onChange={(event) => change("tail", (d) => ({ ...d, tail: event.target.value as Tail }))}
            >
              {tails.map((tail) => (
                <option key={tail.value} value={tail.value}>
                  {tail.says}
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
      {description.options.map((option) => {
        if (option.type === "choice") {
          const chosen = option.choices?.find(
            (choice) => choice.value === String(draft.options[option.id] ?? option.default),
          );
          const hint = [option.says, chosen?.says && `${upperFirst(chosen.label)}: ${chosen.says}`]
            .filter(Boolean)
            .join(" ");
          return (
            <Field key={option.id} label={option.label} pointer={`/options/${option.id}`} hint={hint}>
              {(field) => (
                <select
                  {...field}
                  className="select w-full bg-sheet"
                  value={String(draft.options[option.id] ?? option.default)}
                  onChange={(event) => set(option, event.target.value)}
                >
                  {option.choices?.map((choice) => (
                    <option key={choice.value} value={choice.value}>
                      {choice.label}
                    </option>
                  ))}
                </select>
              )}
            </Field>
          );
        }
        if (option.type === "boolean") {
          return (
            <Field key={option.id} label={option.label} pointer={`/options/${option.id}`} hint={option.says}>
              {(field) => (
                <select
                  {...field}
                  className="select w-full bg-sheet"
                  value={String(draft.options[option.id] ?? option.default)}
                  onChange={(event) => set(option, event.target.value === "true")}
                >
                  <option value="false">off</option>
                  <option value="true">on</option>
                </select>
              )}
            </Field>
          );
        }
        if (option.type === "level") return <LevelField key={option.id} option={option} />;
        if (option.type === "references") return <ReferenceFields key={option.id} option={option} />;
        const reader = readers[option.type];
        if (reader) {
          return (
            <Field key={option.id} label={option.label} pointer={`/options/${option.id}`} hint={option.says}>
              {(field) => (
                <ReadInput
                  field={field}
                  read={reader}
                  lines={option.type === "places" || option.type === "lists"}
                  value={draft.options[option.id] ?? option.default}
                  onChange={(value) => set(option, value)}
                />
              )}
            </Field>
          );
        }
        return option.type === "number" ? (
          <Field key={option.id} label={option.label} pointer={`/options/${option.id}`} hint={option.says}>
            {(field) => (
              <NumberInput
                field={field}
                value={draft.options[option.id] ?? option.default}
                onChange={(value) => set(option, value)}
              />
            )}
          </Field>
        ) : null;
      })}
    </div>
  );
}

/** withOption sets an option, or leaves it to its default where nothing is given. */
function withOption(draft: Draft, id: string, value: unknown): Draft {
  const options = { ...draft.options, [id]: value };
  if (value === "") delete options[id];
  return { ...draft, options };
}

/** LevelField chooses one level of the variable that plays a role. */
function LevelField({ option }: { option: Option }) {
  const { draft, change } = useDraft();
  const view = useDraftSheet();
  if (draft.entry === "summary" || view.sheet.form === "counts") return null;
  const levels = levelsOf(draft, view, option.of ?? "");
  return (
    <Field label={option.label} pointer={`/options/${option.id}`} hint={option.says}>
      {(field) => (
        <LevelSelect
          field={field}
          levels={levels}
          chosen={String(draft.options[option.id] ?? "")}
          none="choose a level"
          onChoose={(level) => change(option.label, (d) => withOption(d, option.id, level))}
        />
      )}
    </Field>
  );
}

/** ReferenceFields choose, of each predictor that is a category, the level that the others are set against. */
function ReferenceFields({ option }: { option: Option }) {
  const { draft, change } = useDraft();
  const view = useDraftSheet();
  const chosen = (draft.options[option.id] ?? {}) as Record<string, string>;
  const categories = namesOf(draft, "predictors").filter((name) => {
    const column = view.sheet.columns.find((each) => each.name.trim() === name);
    return column && (column.kind || view.profiles.get(column.key)?.kind) === "category";
  });
  return categories.map((name) => {
    const set = (level: string) =>
      change(`reference of ${name}`, (d) => {
        const { [name]: _, ...others } = chosen;
        const references = level === "" ? others : { ...others, [name]: level };
        return withOption(d, option.id, Object.keys(references).length > 0 ? references : "");
      });
    return (
      <Field
        key={name}
        label={`Reference of ${name}`}
        pointer={pointerTo("options", option.id, name)}
        hint={option.says}
      >
        {(field) => (
          <LevelSelect
            field={field}
            levels={levelsOfVariable(view, name)}
            chosen={chosen[name] ?? ""}
            none="the first that occurs"
            onChoose={set}
          />
        )}
      </Field>
    );
  });
}

interface LevelSelectProps {
  field: object;
  levels: Levels;
  chosen: string;
  /** What stands there while no level is chosen. */
  none: string;
  onChoose: (level: string) => void;
}

/** LevelSelect chooses one of the levels of a category. One that is no longer there stays until another is chosen. */
function LevelSelect({ field, levels: { codes, names }, chosen, none, onChoose }: LevelSelectProps) {
  return (
    <select
      {...field}
      className="select w-full bg-sheet aria-invalid:border-region"
      value={chosen}
      onChange={(event) => onChoose(event.target.value)}
    >
      <option value="">{none}</option>
      {chosen !== "" && !codes.includes(chosen) && <option value={chosen}>{chosen} (no such level)</option>}
      {codes.map((code) => (
        <option key={code} value={code}>
          {names[code] ?? code}
        </option>
      ))}
    </select>
  );
}

/** How options that hold several numbers are read. */
const readers: Partial<Record<Option["type"], (text: string) => unknown>> = {
  proportions: readNumbers,
  numbers: readNumbers,
  parameters: readNamed,
  places: readPlaces,
  lists: readNames,
};

interface ReadProps extends NumberProps {
  read: (text: string) => unknown;
  /** Whether a list stands on each line. */
  lines: boolean;
}

/** ReadInput keeps what was typed; what cannot be read goes along as text, for the check to name it. */
function ReadInput({ field, value, read, lines, onChange }: ReadProps) {
  const [text, setText] = useState(writeValue(value));
  const meant = (typed: string) => read(typed) ?? typed.trim();
  const shown = JSON.stringify(meant(text)) === JSON.stringify(value ?? "") ? text : writeValue(value);
  const type = (typed: string) => {
    setText(typed);
    onChange(meant(typed));
  };
  return lines ? (
    <textarea
      {...field}
      className="textarea w-full bg-sheet aria-invalid:border-region"
      rows={2}
      placeholder="a list on each line, parted by ;"
      value={shown}
      onChange={(event) => type(event.target.value)}
    />
  ) : (
    <input {...field} className={inputLook} value={shown} onChange={(event) => type(event.target.value)} />
  );
}

interface NumberProps {
  field: object;
  value: unknown;
  onChange: (value: unknown) => void;
}

/** NumberInput keeps what was typed; what is no number goes along as text, for the check to name it. */
function NumberInput({ field, value, onChange }: NumberProps) {
  const [text, setText] = useState(String(value ?? ""));
  const number = (typed: string) => {
    const read = readNumber(typed);
    return Number.isFinite(read) ? read : typed;
  };
  const shown = number(text) === (value ?? "") ? text : String(value ?? "");
  return (
    <input
      {...field}
      className={inputLook}
      inputMode="decimal"
      value={shown}
      onChange={(event) => {
        setText(event.target.value);
        onChange(number(event.target.value));
      }}
    />
  );
}

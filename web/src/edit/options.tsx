import { useState } from "react";
import type { Draft, Option } from "../api/types";
import { readNamed, readNames, readNumber, readNumbers, readPlaces, writeValue } from "../lib/number";
import { pointerTo } from "../lib/pointer";
import { upperFirst } from "../lib/words";
import { useDraftSheet } from "./DataFields";
import { useDraft } from "./draft";
import { Field, inputLook } from "./Field";
import { type Levels, levelsOf, levelsOfVariable } from "./levels";
import { namesOf } from "./roles";

interface Props {
  option: Option;
}

/**
 * How each type of option is asked for; null where it is chosen beside the solution, from what stands there. A new type
 * has its field here and nowhere else.
 */
const fields: Record<Option["type"], React.FC<Props> | null> = {
  choice: ChoiceField,
  boolean: SwitchField,
  number: NumberField,
  level: LevelField,
  references: ReferenceFields,
  term: TermField,
  proportions: (props) => <ReadField {...props} read={readNumbers} />,
  numbers: (props) => <ReadField {...props} read={readNumbers} />,
  parameters: (props) => <ReadField {...props} read={readNamed} />,
  places: (props) => <ReadField {...props} read={readPlaces} lines />,
  lists: (props) => <ReadField {...props} read={readNames} lines />,
  levels: null,
  join: null,
  omit: null,
  order: null,
  contrast: null,
};

/** OptionField asks for an option of the procedure. */
export function OptionField({ option }: Props) {
  const TypeField = fields[option.type];
  return TypeField && <TypeField option={option} />;
}

/** useOption returns what an option is in the draft, or its default, and the function that sets it. */
function useOption(option: Option): [unknown, (value: unknown) => void] {
  const { draft, change } = useDraft();
  const set = (value: unknown) => change(option.label, (d) => withOption(d, option.id, value));
  return [draft.options[option.id] ?? option.default, set];
}

/** withOption sets an option, or leaves it to its default where nothing is given. */
function withOption(draft: Draft, id: string, value: unknown): Draft {
  const options = { ...draft.options, [id]: value };
  if (value === "") delete options[id];
  return { ...draft, options };
}

/** ChoiceField is one of a few choices, with what the chosen one means. */
function ChoiceField({ option }: Props) {
  const [value, set] = useOption(option);
  const chosen = option.choices?.find((choice) => choice.value === String(value));
  const hint = [option.says, chosen?.says && `${upperFirst(chosen.label)}: ${chosen.says}`].filter(Boolean).join(" ");
  return (
    <Field label={option.label} pointer={pointerTo("options", option.id)} hint={hint}>
      {(field) => (
        <select
          {...field}
          className="select w-full bg-sheet"
          value={String(value)}
          onChange={(event) => set(event.target.value)}
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

function SwitchField({ option }: Props) {
  const [value, set] = useOption(option);
  return (
    <Field label={option.label} pointer={pointerTo("options", option.id)} hint={option.says}>
      {(field) => (
        <select
          {...field}
          className="select w-full bg-sheet"
          value={String(value)}
          onChange={(event) => set(event.target.value === "true")}
        >
          <option value="false">off</option>
          <option value="true">on</option>
        </select>
      )}
    </Field>
  );
}

function NumberField({ option }: Props) {
  const [value, set] = useOption(option);
  return (
    <Field label={option.label} pointer={pointerTo("options", option.id)} hint={option.says}>
      {(field) => <NumberInput field={field} value={value} onChange={set} />}
    </Field>
  );
}

interface ReadFieldProps extends Props {
  read: (text: string) => unknown;
  lines?: boolean;
}

/** ReadField takes several numbers or names, on one line or on several. */
function ReadField({ option, read, lines = false }: ReadFieldProps) {
  const [value, set] = useOption(option);
  return (
    <Field label={option.label} pointer={pointerTo("options", option.id)} hint={option.says}>
      {(field) => <ReadInput field={field} read={read} lines={lines} value={value} onChange={set} />}
    </Field>
  );
}

/** LevelField chooses one level of the variable that plays a role. */
function LevelField({ option }: Props) {
  const { draft, change } = useDraft();
  const view = useDraftSheet();
  if (draft.entry === "summary" || view.sheet.form === "counts") return null;
  const levels = levelsOf(draft, view, option.of ?? "");
  return (
    <Field label={option.label} pointer={pointerTo("options", option.id)} hint={option.says}>
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

/** TermField chooses one coefficient: a predictor that is a number, or a level of one that is a category. */
function TermField({ option }: Props) {
  const { draft, change } = useDraft();
  const view = useDraftSheet();
  const terms = namesOf(draft, "predictors").flatMap((name) => {
    if (!isCategory(view, name)) return [name];
    const { codes, names } = levelsOfVariable(view, name);
    return codes.map((code) => `${name}: ${names[code] ?? code}`);
  });
  return (
    <Field label={option.label} pointer={pointerTo("options", option.id)} hint={option.says}>
      {(field) => (
        <LevelSelect
          field={field}
          levels={{ codes: terms, names: {} }}
          chosen={String(draft.options[option.id] ?? "")}
          none="all together"
          onChoose={(term) =>
            change(option.label, (d) => ({ ...withOption(d, option.id, term), tail: term === "" ? "both" : d.tail }))
          }
        />
      )}
    </Field>
  );
}

/** isCategory reports whether a variable is a category, as chosen or as its cells look. */
function isCategory(view: ReturnType<typeof useDraftSheet>, name: string): boolean {
  const column = view.sheet.columns.find((each) => each.name.trim() === name);
  return column !== undefined && (column.kind || view.profiles.get(column.key)?.kind) === "category";
}

/** ReferenceFields choose, of each predictor that is a category, the level that the others are set against. */
function ReferenceFields({ option }: Props) {
  const { draft, change } = useDraft();
  const view = useDraftSheet();
  const chosen = (draft.options[option.id] ?? {}) as Record<string, string>;
  const categories = namesOf(draft, "predictors").filter((name) => isCategory(view, name));
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

import { Plus, X } from "lucide-react";
import { useId, useState } from "react";
import type { Class, Profile, Recode } from "../api/types";
import { Dialog } from "../app/Dialog";
import { upperFirst } from "../lib/words";
import { useSheet } from "./context";
import { PreviewCells, usePreview } from "./DeriveDialog";
import { asNumber, blocksOf, cellsOf, isDerived, newColumn, type SheetColumn, setColumn } from "./sheet";

interface Props {
  at: number;
  column: SheetColumn;
  profile: Profile | undefined;
  onClose: () => void;
}

interface TypedClass {
  below: string;
  name: string;
}

const plain = (x: number) => String(Number(x.toPrecision(3)));

/** firstClasses suggests three classes of equal width. */
function firstClasses(profile: Profile | undefined): TypedClass[] {
  const low = profile?.low ?? 0;
  const width = ((profile?.high ?? 3) - low) / 3;
  return [
    { below: plain(low + width), name: "low" },
    { below: plain(low + 2 * width), name: "middle" },
    { below: "", name: "high" },
  ];
}

/** RecodeDialog gives values other names, or cuts a number's range into classes. */
export function RecodeDialog({ at, column, profile, onClose }: Props) {
  const { sheet, change } = useSheet();
  const id = useId();
  const given = column.recode;
  const from = given ? given.from : column.name;
  const source = given ? sheet.columns.find((each) => each.name.trim() === given.from) : column;
  const number = given ? given.classes !== undefined : (column.kind || profile?.kind) === "number";
  const [name, setName] = useState(given ? column.name : `${column.name} ${number ? "class" : "recoded"}`);
  const [inPlace, setInPlace] = useState(false);
  const [values, setValues] = useState<Record<string, string>>(given?.values ?? {});
  const [classes, setClasses] = useState<TypedClass[]>(
    given?.classes?.map((each) => ({ below: each.below === undefined ? "" : String(each.below), name: each.name })) ??
      firstClasses(profile),
  );
  const codes = given
    ? [
        ...new Set([...(source ? cellsOf(source) : []).map((cell) => cell.trim()), ...Object.keys(given.values ?? {})]),
      ].filter(Boolean)
    : (profile?.levels ?? []).map((level) => level.code);
  const recode: Recode = number
    ? {
        from,
        classes: classes.map(
          (each, i): Class =>
            i === classes.length - 1 ? { name: each.name } : { below: asNumber(each.below), name: each.name },
        ),
      }
    : { from, values };
  const numbersMissing = number && classes.slice(0, -1).some((each) => Number.isNaN(asNumber(each.below)));
  const preview = usePreview({ recode }, !numbersMissing);
  const taken = sheet.columns.some((each) => each.name.trim() === name.trim() && (!given || each.key !== column.key));
  const wrong = numbersMissing ? "Each class but the last needs a number where it ends" : preview?.says;
  const changed = number || Object.values(values).some((value) => value !== "");
  const ready = changed && !wrong && (inPlace || (name.trim() !== "" && !taken));
  const take = () => {
    if (!ready) return;
    const named = Object.fromEntries(Object.entries(values).filter(([, value]) => value !== ""));
    const recipe = number ? recode : { from, values: named };
    if (given) {
      change(`recode ${from}`, (s) => setColumn(s, at, (c) => ({ ...c, name: name.trim(), recode: recipe })));
    } else if (inPlace) {
      change(`recode ${from}`, (s) =>
        setColumn(s, at, (c) => ({
          ...c,
          levels: undefined,
          blocks: blocksOf(cellsOf(c).map((cell) => named[cell.trim()] ?? cell)),
        })),
      );
    } else {
      change(`recode ${from}`, (s) => ({
        ...s,
        columns: s.columns.toSpliced(at + 1, 0, newColumn(s, { name: name.trim(), recode: recipe, kind: "category" })),
      }));
    }
    onClose();
  };
  const setClass = (i: number, fields: Partial<TypedClass>) =>
    setClasses(classes.map((each, j) => (j === i ? { ...each, ...fields } : each)));
  return (
    <Dialog title={`Recode ${from}`} onClose={onClose} wide>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          take();
        }}
      >
        {number ? (
          <div className="grid gap-1.5">
            <p className="text-muted">
              Classes in order. A number on a boundary belongs to the class above it.
              {profile && profile.n > 0 && ` The numbers go from ${profile.low} to ${profile.high}.`}
            </p>
            {classes.map((each, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a class is its place
              <div key={i} className="flex items-center gap-2">
                {i < classes.length - 1 ? (
                  <>
                    <span className="w-24 text-muted">{i === 0 ? "below" : "then below"}</span>
                    <input
                      aria-label={`End of class ${i + 1}`}
                      className="input input-sm w-28 bg-sheet text-right"
                      inputMode="decimal"
                      value={each.below}
                      onChange={(event) => setClass(i, { below: event.target.value })}
                    />
                  </>
                ) : (
                  <span className="w-[13.5rem] text-muted">all above</span>
                )}
                <span className="text-muted">is</span>
                <input
                  aria-label={`Name of class ${i + 1}`}
                  className="input input-sm w-48 bg-sheet"
                  value={each.name}
                  onChange={(event) => setClass(i, { name: event.target.value })}
                />
                {classes.length > 2 && i < classes.length - 1 && (
                  <button
                    type="button"
                    className="btn btn-ghost btn-sm btn-square"
                    aria-label={`Remove class ${i + 1}`}
                    onClick={() => setClasses(classes.filter((_, j) => j !== i))}
                  >
                    <X size="1em" aria-hidden="true" />
                  </button>
                )}
              </div>
            ))}
            <button
              type="button"
              className="act justify-self-start"
              onClick={() => setClasses(classes.toSpliced(classes.length - 1, 0, { below: "", name: "" }))}
            >
              <Plus size="1em" className="mr-1 inline" aria-hidden="true" />
              Another class
            </button>
          </div>
        ) : (
          <div className="grid gap-1.5">
            <p className="text-muted">
              A value that gets no other name stays as it is. Two values with one name are joined.
            </p>
            <div className="grid max-h-72 grid-cols-[auto_auto_1fr] items-center gap-x-3 gap-y-1 overflow-y-auto">
              {codes.map((code) => (
                <div key={code} className="contents">
                  <span className="truncate">{code}</span>
                  <span className="text-muted">becomes</span>
                  <input
                    aria-label={`${code} becomes`}
                    className="input input-sm w-56 bg-sheet"
                    placeholder={code}
                    value={values[code] ?? ""}
                    onChange={(event) => setValues({ ...values, [code]: event.target.value })}
                  />
                </div>
              ))}
            </div>
          </div>
        )}
        {wrong && (
          <p role="status" className="text-(--region-text)">
            {upperFirst(wrong)}.
          </p>
        )}
        {!given && !number && !isDerived(column) && (
          <fieldset className="flex gap-5">
            <legend className="sr-only">Where the result goes</legend>
            {[false, true].map((here) => (
              <label key={String(here)} className="flex cursor-pointer items-center gap-2">
                <input
                  type="radio"
                  className="radio radio-sm"
                  name={`${id}-where`}
                  checked={inPlace === here}
                  onChange={() => setInPlace(here)}
                />
                {here ? "Correct the cells themselves" : "Into a new variable that follows this one"}
              </label>
            ))}
          </fieldset>
        )}
        {!inPlace && (
          <div className="grid gap-1">
            <label htmlFor={`${id}-name`} className="text-muted">
              Name of the {given ? "" : "new "}variable
            </label>
            <input
              id={`${id}-name`}
              className="input w-64 bg-sheet"
              value={name}
              aria-invalid={taken}
              onChange={(event) => setName(event.target.value)}
            />
            {taken && <p className="text-(--region-text)">Another column has this name.</p>}
          </div>
        )}
        <PreviewCells preview={preview} />
        <button type="submit" className="btn btn-primary justify-self-start" disabled={!ready}>
          Recode
        </button>
      </form>
    </Dialog>
  );
}

import {
  ArrowDown,
  ArrowDownWideNarrow,
  ArrowLeft,
  ArrowRight,
  ArrowUp,
  ArrowUpNarrowWide,
  Replace,
  Sigma,
  Trash2,
  X,
} from "lucide-react";
import { useEffect, useId, useRef, useState } from "react";
import { createPortal } from "react-dom";
import type { Kind, Profile } from "../api/types";
import { useSheet } from "./context";
import { DeriveDialog } from "./DeriveDialog";
import { RecodeDialog } from "./RecodeDialog";
import { withName } from "./rename";
import { isDerived, type SheetColumn, setColumn, withColumn } from "./sheet";
import type { Sort } from "./sort";

const kinds: { value: Kind; label: string; says: string }[] = [
  { value: "number", label: "number", says: "measured or counted" },
  { value: "category", label: "category", says: "names or codes; yes/no is one of two levels" },
  { value: "identifier", label: "identifier", says: "tells cases apart, never analysed" },
];

const scales = [
  { value: 0, label: "as it is" },
  { value: 10, label: "in tens of it" },
  { value: 100, label: "in hundreds of it" },
  { value: 1000, label: "in thousands of it" },
  { value: 1_000_000, label: "in millions of it" },
];

const input = "input input-sm w-full bg-sheet";

interface Props {
  at: number;
  column: SheetColumn;
  profile: Profile | undefined;
  sort?: Sort;
  onSort?: (sort: Sort | undefined) => void;
  onGo: (row: number) => void;
  onClose: () => void;
}

/** VariablePanel says what a column is; it opens under the column's own header. */
export function VariablePanel({ at, column, profile, sort, onSort, onGo, onClose }: Props) {
  const { sheet, change } = useSheet();
  const marker = useRef<HTMLSpanElement>(null);
  const panel = useRef<HTMLDivElement>(null);
  const [place, setPlace] = useState<{ left: number; top: number }>();
  const [dialog, setDialog] = useState<"derive" | "recode" | "edit">();
  const base = useRef(sheet); // as it was before the name was typed
  const id = useId();
  const name = column.name || `column ${at + 1}`;
  const kind = column.kind || profile?.kind || "";

  // Under the header, inside the window.
  useEffect(() => {
    const header = marker.current?.parentElement?.getBoundingClientRect();
    if (!header) return;
    const width = 332;
    setPlace({
      left: Math.max(8, Math.min(header.left, innerWidth - width - 8)),
      top: Math.min(header.bottom, innerHeight - 200),
    });
  }, []);
  useEffect(() => {
    if (place) panel.current?.querySelector("input")?.focus();
  }, [place]);
  useEffect(() => {
    const outside = (event: PointerEvent) => {
      const target = event.target as Element;
      if (
        !panel.current?.contains(target) &&
        !marker.current?.parentElement?.contains(target) &&
        !target.closest("dialog")
      )
        onClose();
    };
    addEventListener("pointerdown", outside);
    return () => removeEventListener("pointerdown", outside);
  }, [onClose]);

  const set = (says: string, fields: Partial<SheetColumn>) =>
    change(`${says} of ${name}`, (s) => setColumn(s, at, (c) => ({ ...c, ...fields })));
  return (
    <span ref={marker}>
      {place &&
        createPortal(
          <div
            ref={panel}
            role="dialog"
            aria-label={`About ${name}`}
            className="fixed z-30 flex w-[332px] flex-col gap-3 overflow-y-auto rounded-box border border-base-300 bg-base-100 p-3.5 shadow-lg"
            style={{ left: place.left, top: place.top, maxHeight: `calc(100dvh - ${place.top}px - 8px)` }}
            onKeyDown={(event) => {
              if (event.key === "Escape" && !dialog) onClose();
            }}
          >
            <div className="flex items-start gap-2">
              <label className="grid flex-1 gap-0.5" htmlFor={`${id}-name`}>
                <span className="text-[0.9rem] text-muted">Name</span>
                <input
                  id={`${id}-name`}
                  className={`${input} font-semibold`}
                  value={column.name}
                  placeholder={sheet.form === "groups" ? `group ${at + 1}` : `column ${at + 1}`}
                  onFocus={() => {
                    base.current = sheet;
                  }}
                  onChange={(event) =>
                    change(`name of ${base.current.columns[at]?.name || `column ${at + 1}`}`, (s) =>
                      withName(s, at, event.target.value, base.current),
                    )
                  }
                />
              </label>
              <button type="button" className="btn btn-ghost btn-sm btn-square" aria-label="Close" onClick={onClose}>
                <X size="1.1em" aria-hidden="true" />
              </button>
            </div>
            {sheet.form === "cases" && (
              <>
                <Kinds
                  kind={kind}
                  said={column.kind !== ""}
                  profile={profile}
                  onChoose={(next) => set("kind", { kind: next })}
                />
                <label className="grid gap-0.5" htmlFor={`${id}-label`}>
                  <span className="text-[0.9rem] text-muted">In words, as sentences put it</span>
                  <input
                    id={`${id}-label`}
                    className={input}
                    placeholder="Loading time"
                    value={column.label}
                    onChange={(event) => set("label", { label: event.target.value })}
                  />
                </label>
                {kind === "number" && <NumberFields id={id} column={column} set={set} />}
                {kind === "category" && <Levels at={at} column={column} profile={profile} />}
              </>
            )}
            {isDerived(column) && (
              <p className="rounded-field bg-base-200 px-2.5 py-1.5">
                {column.formula ? (
                  <>
                    <span className="text-muted">Follows from </span>
                    <code>{column.formula}</code>
                  </>
                ) : (
                  <span className="text-muted">Recoded from {column.recode?.from}</span>
                )}{" "}
                <button type="button" className="act" onClick={() => setDialog("edit")}>
                  Change
                </button>
              </p>
            )}
            <Odd profile={profile} onGo={onGo} />
            <div className="grid grid-cols-2 gap-x-1 border-base-300 border-t pt-2">
              {sheet.form === "cases" && (
                <>
                  <Act icon={Replace} words="Recode …" onClick={() => setDialog("recode")} />
                  <Act icon={Sigma} words="Derive from it …" onClick={() => setDialog("derive")} />
                </>
              )}
              <Act
                icon={ArrowUpNarrowWide}
                words="View sorted up"
                onClick={() => onSort?.({ key: column.key, down: false })}
              />
              <Act
                icon={ArrowDownWideNarrow}
                words="View sorted down"
                onClick={() => onSort?.({ key: column.key, down: true })}
              />
              {sort && <Act icon={X} words="View as entered" onClick={() => onSort?.(undefined)} />}
              <Act
                icon={ArrowLeft}
                words="Insert before"
                onClick={() => change("insert a column", (s) => withColumn(s, at))}
              />
              <Act
                icon={ArrowRight}
                words="Insert after"
                onClick={() => change("insert a column", (s) => withColumn(s, at + 1))}
              />
              <Act
                icon={Trash2}
                words="Delete"
                onClick={() => {
                  change(`delete ${name}`, (s) => ({ ...s, columns: s.columns.filter((_, i) => i !== at) }));
                  onClose();
                }}
              />
            </div>
          </div>,
          document.body,
        )}
      {dialog === "derive" && <DeriveDialog after={at} start={column.name} onClose={() => setDialog(undefined)} />}
      {dialog === "edit" && column.formula && (
        <DeriveDialog after={at} editing={column} start={column.formula} onClose={() => setDialog(undefined)} />
      )}
      {(dialog === "recode" || (dialog === "edit" && column.recode)) && (
        <RecodeDialog at={at} column={column} profile={profile} onClose={() => setDialog(undefined)} />
      )}
    </span>
  );
}

function Act({ icon: Icon, words, onClick }: { icon: typeof X; words: string; onClick: () => void }) {
  return (
    <button type="button" className="btn btn-ghost btn-sm justify-start gap-1.5 px-1.5 font-normal" onClick={onClick}>
      <Icon size="1.05em" className="text-muted" aria-hidden="true" />
      {words}
    </button>
  );
}

interface KindsProps {
  kind: Kind;
  said: boolean;
  profile: Profile | undefined;
  onChoose: (kind: Kind) => void;
}

function Kinds({ kind, said, profile, onChoose }: KindsProps) {
  return (
    <fieldset className="grid gap-1">
      <legend className="text-[0.9rem] text-muted">Kind{!said && kind ? ": guessed from its cells" : ""}</legend>
      <div className="flex rounded-selector bg-base-200 p-0.5">
        {kinds.map((each) => (
          <button
            key={each.value}
            type="button"
            aria-pressed={each.value === kind}
            title={each.says}
            className={`flex-1 cursor-pointer rounded-[0.5rem] px-2 py-0.5 ${each.value === kind ? "bg-raised font-semibold shadow-sm" : "text-muted hover:text-ink"}`}
            onClick={() => onChoose(each.value)}
          >
            {each.label}
          </button>
        ))}
      </div>
      {profile?.suggest && !said && (
        <p>
          {profile.because}{" "}
          <button type="button" className="act" onClick={() => onChoose(profile.suggest as Kind)}>
            Make it {profile.suggest === "identifier" ? "an" : "a"} {profile.suggest}
          </button>
        </p>
      )}
    </fieldset>
  );
}

interface NumberProps {
  id: string;
  column: SheetColumn;
  set: (says: string, fields: Partial<SheetColumn>) => void;
}

function NumberFields({ id, column, set }: NumberProps) {
  return (
    <div className="grid grid-cols-[1fr_1.35fr_0.95fr] gap-2">
      <label className="grid gap-0.5" htmlFor={`${id}-unit`}>
        <span className="text-[0.9rem] text-muted">Unit</span>
        <input
          id={`${id}-unit`}
          className={input}
          placeholder="min, €"
          value={column.unit}
          onChange={(event) => set("unit", { unit: event.target.value })}
        />
      </label>
      <label className="grid gap-0.5" htmlFor={`${id}-scale`}>
        <span className="text-[0.9rem] text-muted">Given</span>
        <select
          id={`${id}-scale`}
          className="select select-sm w-full bg-sheet"
          value={column.scale ?? 0}
          onChange={(event) => set("scale", { scale: Number(event.target.value) || undefined })}
        >
          {scales.map((scale) => (
            <option key={scale.value} value={scale.value}>
              {scale.label}
            </option>
          ))}
        </select>
      </label>
      <label className="grid gap-0.5" htmlFor={`${id}-decimals`}>
        <span className="text-[0.9rem] text-muted">Decimals</span>
        <select
          id={`${id}-decimals`}
          className="select select-sm w-full bg-sheet"
          value={column.decimals ?? ""}
          onChange={(event) =>
            set("decimals", { decimals: event.target.value === "" ? undefined : Number(event.target.value) })
          }
        >
          <option value="">as typed</option>
          {[0, 1, 2, 3, 4, 5, 6].map((n) => (
            <option key={n} value={n}>
              {n}
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}

/** Levels are a category's levels in their order, with a name for each code. */
function Levels({ at, column, profile }: { at: number; column: SheetColumn; profile: Profile | undefined }) {
  const { change } = useSheet();
  const [held, setHeld] = useState<string>();
  const seen = profile?.levels ?? [];
  const codes = column.levels ?? seen.map((level) => level.code);
  const counts = new Map(seen.map((level) => [level.code, level.count]));
  if (codes.length === 0 || codes.length >= 50) return null;
  const move = (code: string, to: number) => {
    const next = codes.filter((each) => each !== code);
    next.splice(Math.max(0, Math.min(next.length, to)), 0, code);
    change(`order of ${column.name}`, (s) => setColumn(s, at, (c) => ({ ...c, levels: next })));
  };
  const rename = (code: string, name: string) =>
    change(`name of ${code} in ${column.name}`, (s) =>
      setColumn(s, at, (c) => {
        const names = { ...c.level_names };
        if (name === "") delete names[code];
        else names[code] = name;
        return { ...c, level_names: Object.keys(names).length > 0 ? names : undefined };
      }),
    );
  return (
    <div className="grid gap-0.5">
      <p className="text-[0.9rem] text-muted">Levels in their order, and what a code means</p>
      <ol className="grid gap-0.5">
        {codes.map((code, i) => (
          <li
            key={code}
            draggable
            className={`grid grid-cols-[3.4rem_minmax(3rem,5.5rem)_1fr_2.2rem] items-center gap-1.5 rounded ${held === code ? "bg-base-300" : ""}`}
            onDragStart={() => setHeld(code)}
            onDragEnd={() => setHeld(undefined)}
            onDragOver={(event) => event.preventDefault()}
            onDrop={(event) => {
              event.preventDefault();
              if (held !== undefined && held !== code) move(held, i);
              setHeld(undefined);
            }}
          >
            <span className="flex">
              <LevelButton label={`${code} up`} icon={ArrowUp} disabled={i === 0} onClick={() => move(code, i - 1)} />
              <LevelButton
                label={`${code} down`}
                icon={ArrowDown}
                disabled={i === codes.length - 1}
                onClick={() => move(code, i + 1)}
              />
            </span>
            <span className="cursor-grab truncate" title={code}>
              {code}
            </span>
            <input
              aria-label={`Name of ${code}`}
              className="input input-xs h-[24px] w-full bg-sheet text-[0.95rem]"
              placeholder={code}
              value={column.level_names?.[code] ?? ""}
              onChange={(event) => rename(code, event.target.value)}
            />
            <span className="text-right text-muted">{counts.get(code) ?? 0}</span>
          </li>
        ))}
      </ol>
    </div>
  );
}

function LevelButton({
  label,
  icon: Icon,
  disabled,
  onClick,
}: {
  label: string;
  icon: typeof X;
  disabled: boolean;
  onClick: () => void;
}) {
  return (
    <button
      type="button"
      className="flex size-[24px] cursor-pointer items-center justify-center text-muted hover:text-ink disabled:opacity-30"
      aria-label={label}
      disabled={disabled}
      onClick={onClick}
    >
      <Icon size="0.85em" aria-hidden="true" />
    </button>
  );
}

/** Odd lists what looks odd, each leading to its cell. */
function Odd({ profile, onGo }: { profile: Profile | undefined; onGo: (row: number) => void }) {
  const odd = profile?.odd ?? [];
  if (odd.length === 0) return null;
  return (
    <div className="grid gap-1">
      <p className="text-[0.9rem] text-muted">Looks odd</p>
      <ul className="grid gap-1">
        {odd.slice(0, 8).map((each) => (
          <li key={each.case + each.says} className="border-region border-l-2 pl-2">
            <button type="button" className="act" onClick={() => onGo(each.case)}>
              Row {each.case + 1}
            </button>{" "}
            {each.says}
          </li>
        ))}
        {odd.length > 8 && <li className="pl-2 text-muted">and {odd.length - 8} more</li>}
      </ul>
    </div>
  );
}

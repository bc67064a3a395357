import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useId, useRef, useState } from "react";
import { request } from "../api/client";
import type { Preview } from "../api/types";
import { Dialog } from "../app/Dialog";
import { upperFirst } from "../lib/words";
import { useSheet } from "./context";
import { newColumn, type SheetColumn } from "./sheet";

interface Props {
  /** Behind which column the new one stands. */
  after: number;
  start: string;
  /** The derived column whose formula is changed. */
  editing?: SheetColumn;
  onClose: () => void;
}

const examples: { words: string; formula: (name: string, other: string) => string }[] = [
  { words: "difference of a pair", formula: (name, other) => `${name} - ${other}` },
  { words: "logarithm", formula: (name) => `log(${name})` },
  { words: "square root", formula: (name) => `sqrt(${name})` },
  { words: "standardise", formula: (name) => `standardise(${name})` },
  { words: "rank", formula: (name) => `rank(${name})` },
  { words: "deviation from the mean", formula: (name) => `${name} - mean(${name})` },
  { words: "two words by a limit", formula: (name) => `${name} > 12 ? "late" : "on time"` },
];

/** usePreview asks what a derived column would hold. */
export function usePreview(column: Partial<SheetColumn>, enabled: boolean): Preview | undefined {
  const { id, version } = useSheet();
  const asked = useDeferredValue(JSON.stringify({ column }));
  const { data } = useQuery({
    queryKey: ["preview", id, version, asked],
    queryFn: () => request<Preview>("POST", `/api/data-sets/${id}/preview`, JSON.parse(asked)),
    enabled,
    placeholderData: keepPreviousData,
  });
  return data;
}

/** DeriveDialog makes a variable that follows from others by a formula, with its result in view. */
export function DeriveDialog({ after, start, editing, onClose }: Props) {
  const { sheet, profiles, change } = useSheet();
  const [name, setName] = useState(editing?.name ?? "");
  const [formula, setFormula] = useState(start);
  const area = useRef<HTMLTextAreaElement>(null);
  const id = useId();
  const preview = usePreview({ formula }, formula.trim() !== "");
  const taken = sheet.columns.some((column) => column.key !== editing?.key && column.name.trim() === name.trim());
  const wrong = preview?.says;
  const ready = name.trim() !== "" && !taken && formula.trim() !== "" && preview !== undefined && !wrong;
  // The examples are about the column at hand where it is a number, and the one beside it.
  const numbers = sheet.columns.filter((column) => (column.kind || profiles.get(column.key)?.kind) === "number");
  const place = Math.max(0, numbers.indexOf(sheet.columns[after] as SheetColumn));
  const one = numbers[place]?.name || "minutes";
  const other = numbers[place + 1]?.name || numbers[0]?.name || "minutes";
  const put = (text: string) => {
    const at = area.current;
    if (!at) return;
    const [from, to] = [at.selectionStart, at.selectionEnd];
    setFormula(formula.slice(0, from) + text + formula.slice(to));
    requestAnimationFrame(() => {
      at.focus();
      at.setSelectionRange(from + text.length, from + text.length);
    });
  };
  const take = () => {
    if (!ready) return;
    const fields = { name: name.trim(), formula: formula.trim() };
    if (editing) {
      change(`formula of ${fields.name}`, (s) => ({
        ...s,
        columns: s.columns.map((column) => (column.key === editing.key ? { ...column, ...fields } : column)),
      }));
    } else {
      change(`derive ${fields.name}`, (s) => ({
        ...s,
        columns: s.columns.toSpliced(after + 1, 0, newColumn(s, fields)),
      }));
    }
    onClose();
  };
  return (
    <Dialog title={editing ? `The formula of ${editing.name}` : "A new variable from others"} onClose={onClose} wide>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          take();
        }}
      >
        <div className="grid gap-1">
          <label htmlFor={`${id}-name`} className="text-muted">
            Its name
          </label>
          <input
            id={`${id}-name`}
            className="input w-64 bg-sheet"
            placeholder="difference"
            value={name}
            aria-invalid={taken}
            onChange={(event) => setName(event.target.value)}
          />
          {taken && <p className="text-(--region-text)">Another column has this name.</p>}
        </div>
        <div className="grid gap-1">
          <label htmlFor={`${id}-formula`} className="text-muted">
            How it follows from the others
          </label>
          <textarea
            ref={area}
            id={`${id}-formula`}
            className="textarea field-sizing-content min-h-12 w-full bg-sheet font-mono"
            spellCheck={false}
            value={formula}
            aria-invalid={wrong !== undefined}
            aria-describedby={`${id}-wrong`}
            onChange={(event) => setFormula(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === "Enter" && !event.shiftKey) {
                event.preventDefault();
                take();
              }
            }}
          />
          <div id={`${id}-wrong`} role="status">
            {wrong && (
              <p className="text-(--region-text)">
                {preview.at < formula.length && (
                  <code className="mr-2 bg-base-200 px-1">
                    {formula.slice(0, preview.at)}
                    <mark className="bg-region/25 text-ink">{formula.slice(preview.at, preview.at + 12) || " "}</mark>
                    {formula.slice(preview.at + 12)}
                  </code>
                )}
                {upperFirst(wrong)}.
              </p>
            )}
          </div>
        </div>
        <div className="grid gap-1.5">
          <p className="text-muted">Columns: a click puts the name in</p>
          <p className="flex flex-wrap gap-1.5">
            {sheet.columns
              .filter((column) => column.name && column.key !== editing?.key)
              .slice(0, 40)
              .map((column) => (
                <button
                  key={column.key}
                  type="button"
                  className="btn btn-sm font-normal"
                  onClick={() => put(column.name)}
                >
                  {column.name}
                </button>
              ))}
          </p>
          <p className="mt-1 text-muted">Or begin with</p>
          <p className="flex flex-wrap gap-1.5">
            {examples.map((example) => (
              <button
                key={example.words}
                type="button"
                className="btn btn-sm btn-ghost font-normal"
                onClick={() => setFormula(example.formula(one, other))}
              >
                {example.words}
              </button>
            ))}
          </p>
        </div>
        <PreviewCells preview={preview} />
        <button type="submit" className="btn btn-primary justify-self-start" disabled={!ready}>
          {editing ? "Change the formula" : "Add the variable"}
        </button>
        {name.trim() === "" && formula.trim() !== "" && !wrong && <p className="text-muted">It still needs a name.</p>}
      </form>
    </Dialog>
  );
}

/** PreviewCells shows what a derived column would hold. */
export function PreviewCells({ preview }: { preview: Preview | undefined }) {
  const profile = preview?.profile;
  if (!preview || !profile || preview.says)
    return <p className="min-h-16 text-muted">The first results are shown here.</p>;
  return (
    <div className="grid min-h-16 gap-1" data-testid="preview">
      <p className="text-muted">
        A {profile.kind}, {profile.n} cases{profile.missing > 0 ? `, ${profile.missing} without a value` : ""}
        {profile.levels && profile.levels.length > 0 && profile.levels.length <= 12
          ? `: ${profile.levels.map((level) => `${level.code} (${level.count})`).join(", ")}`
          : ""}
      </p>
      <p className="flex flex-wrap gap-x-4 gap-y-1">
        {preview.cells.slice(0, 14).map((cell, row) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its row
          <span key={row}>
            <span className="text-[0.86rem] text-muted">{row + 1}</span> {cell === "" ? "–" : cell}
          </span>
        ))}
        {preview.cells.length > 14 && <span className="text-muted">…</span>}
      </p>
    </div>
  );
}

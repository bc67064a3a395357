import { useQuery } from "@tanstack/react-query";
import { ArrowLeft, X } from "lucide-react";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Quantity } from "../api/types";
import { CopyButton } from "../app/CopyButton";
import { cellFormula, rowOf, unescapePart } from "../blocks/cells";
import { withUnit } from "../blocks/Number";
import { definition, fillIn, TeX } from "../blocks/TeX";
import { KeepButton } from "../kept/KeepButton";
import { copyText } from "../lib/copy";
import { useShortcuts } from "../lib/keys";
import { upperFirst } from "../lib/words";
import { findTable, useSolution, versionOf } from "../solution/solution";
import { NumberNotes } from "./NoteView";

/** OpenedAt is a number that was opened, and the element beside which it shows. */
export interface OpenedAt {
  ref: string;
  at: Element;
}

/**
 * Opened is the card of a number: what it is, its formula with and without
 * numbers, all its digits, and the numbers it was made from, which open in turn.
 */
export function Opened({ opened, onClose }: { opened: OpenedAt; onClose: () => void }) {
  const [trail, setTrail] = useState<string[]>([opened.ref]);
  const [from, setFrom] = useState(opened);
  if (from !== opened) {
    setFrom(opened);
    setTrail([opened.ref]);
  }
  const card = useRef<HTMLDivElement>(null);
  const [place, setPlace] = useState<{ left: number; top: number; maxHeight: number } | null>(null);
  const current = trail.at(-1) ?? opened.ref;

  // biome-ignore lint/correctness/useExhaustiveDependencies: a card of another number has another height
  useLayoutEffect(() => {
    const box = opened.at.getBoundingClientRect();
    const size = card.current?.getBoundingClientRect();
    if (!size) return;
    const left = Math.max(12, Math.min(box.left, innerWidth - size.width - 12));
    // Never over the number itself: under it, or over it where there is more room.
    const below = innerHeight - box.bottom - 20;
    const above = box.top - 70;
    const under = below >= size.height || below >= above;
    const room = under ? below : above;
    const height = Math.min(card.current?.scrollHeight ?? size.height, room);
    setPlace({ left, top: under ? box.bottom + 8 : box.top - 8 - height, maxHeight: room });
  }, [opened, current]);

  useEffect(() => {
    const back = opened.at as HTMLElement;
    card.current?.focus();
    const outside = (event: PointerEvent) => {
      const target = event.target as Element;
      if (!card.current?.contains(target) && !target.closest("[data-ref], .number")) onClose();
    };
    document.addEventListener("pointerdown", outside);
    return () => {
      document.removeEventListener("pointerdown", outside);
      if (card.current?.contains(document.activeElement) || document.activeElement === document.body) back.focus?.();
    };
  }, [opened, onClose]);

  // A button that was pressed may be gone with the card before; the focus stays in the card.
  // biome-ignore lint/correctness/useExhaustiveDependencies: another card
  useEffect(() => {
    if (document.activeElement === document.body) card.current?.focus();
  }, [current]);
  useShortcuts([{ key: "Escape", says: "Close the number", act: onClose }]);

  return (
    <div
      ref={card}
      role="dialog"
      aria-label="Where the number comes from"
      tabIndex={-1}
      data-testid="opened"
      style={place ?? { left: 0, top: 0, visibility: "hidden" }}
      className="fixed z-30 w-[min(30rem,calc(100vw-24px))] overflow-y-auto rounded-box border border-ink bg-base-100 p-4 shadow-xl outline-none"
    >
      <Card
        id={current}
        onOpen={(id) => setTrail([...trail, id])}
        onBack={trail.length > 1 ? () => setTrail(trail.slice(0, -1)) : undefined}
        onClose={onClose}
      />
    </div>
  );
}

interface HeadProps {
  title: string;
  onBack?: () => void;
  onClose: () => void;
}

/** Head is the title of a card, with the ways back and out. */
function Head({ title, onBack, onClose }: HeadProps) {
  return (
    <div className="flex items-start gap-1.5">
      {onBack && (
        <button type="button" className="btn btn-ghost btn-xs btn-square" aria-label="Back" onClick={onBack}>
          <ArrowLeft size="1.2em" aria-hidden="true" />
        </button>
      )}
      <h2 className="flex-1 pt-px font-semibold">{title}</h2>
      <button type="button" className="btn btn-ghost btn-xs btn-square" aria-label="Close" onClick={onClose}>
        <X size="1.2em" aria-hidden="true" />
      </button>
    </div>
  );
}

interface CardProps {
  id: string;
  onOpen: (id: string) => void;
  onBack?: () => void;
  onClose: () => void;
}

function Card({ id, onOpen, onBack, onClose }: CardProps) {
  const { quantities } = useSolution();
  const quantity = quantities.get(id);
  if (!quantity && !id.includes("*")) return <CellCard reference={id} onBack={onBack} onClose={onClose} />;
  if (!quantity) return <ColumnCard reference={id} onBack={onBack} onClose={onClose} />;
  const formula = quantity.formula;
  return (
    <div className="grid grid-cols-1 gap-3">
      <div>
        <Head title={quantity.label} onBack={onBack} onClose={onClose} />
        <p className="font-semibold font-serif text-[1.7rem] leading-tight">{withUnit(quantity)}</p>
      </div>
      {quantity.says && <p className="text-muted">{quantity.says}</p>}
      {formula ? (
        // biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame
        <div
          role="group"
          aria-label="Formula"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a wide formula scrolls, by key too
          tabIndex={0}
          className="overflow-x-auto rounded-field bg-sheet px-3 py-2"
        >
          <div className="py-1">
            <TeX tex={`\\displaystyle ${definition(quantity, quantities)}`} onOpen={onOpen} />
          </div>
          {formula.numeric !== undefined || formula.inputs.some((input) => quantities.has(input)) ? (
            <div className="py-1">
              <TeX
                tex={`\\displaystyle = ${fillIn(formula.numeric ?? formula.symbolic, "numbers", quantities)}`}
                onOpen={onOpen}
              />
            </div>
          ) : null}
        </div>
      ) : (
        <p className="text-muted">This number is given; nothing was calculated.</p>
      )}
      {formula?.rounding && <p className="text-[0.9rem] text-muted">{formula.rounding}</p>}
      {formula && formula.inputs.length > 0 && <Ingredients inputs={formula.inputs} onOpen={onOpen} />}
      {quantity.full && (
        <p className="flex items-center justify-between gap-2 border-base-300 border-t pt-2 text-[0.9rem]">
          <span className="break-all">
            <span className="text-muted">All digits: </span>
            {quantity.full}
          </span>
          <CopyButton label="Copy all digits" copy={() => copyText(quantity.full)} />
        </p>
      )}
      <div className="flex flex-wrap items-start justify-between gap-2">
        <NumberNotes id={id} />
        <KeepButton at={`number/${id}`} what={quantity.label} words="Keep" />
      </div>
    </div>
  );
}

function Ingredients({ inputs, onOpen }: { inputs: string[]; onOpen: (id: string) => void }) {
  const { quantities, solution } = useSolution();
  return (
    <ul className="grid gap-0.5" aria-label="Made from">
      {inputs.map((input) => {
        const quantity: Quantity | undefined = quantities.get(input);
        const column = columnOf(input);
        return (
          <li key={input}>
            <button
              type="button"
              className="flex w-full cursor-pointer items-baseline justify-between gap-4 rounded-field px-2 py-1 text-left hover:bg-base-200"
              onClick={() => onOpen(input)}
            >
              <span>{quantity ? quantity.label : `The cells, ${column.group}`}</span>
              <span className="font-semibold">
                {quantity
                  ? withUnit(quantity)
                  : findTable(solution, column.table)?.columns.find((c) => c.id === column.column)?.label}
              </span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}

/** columnOf reads a reference to a part of a column: table/group and a star/column. */
function columnOf(reference: string): { table: string; group: string; column: string } {
  const [table = "", key = "", column = ""] = reference.split("/");
  return { table, group: unescapePart(key.split("|")[0] ?? ""), column };
}

/** CellCard is a number of a table: how it comes about from the others of its row. */
function CellCard({ reference, onBack, onClose }: { reference: string } & Omit<HeadProps, "title">) {
  const { solution, quantities, rows } = useSolution();
  const [id = "", , name = ""] = reference.split("/");
  const first = findTable(solution, id);
  const here = first !== undefined && rowOf(first, reference) >= 0;
  // A row of a further page is fetched.
  const further = useQuery({
    queryKey: ["row", reference, first && versionOf(first)],
    queryFn: () => rows(id, 0, { ref: reference }),
    enabled: first !== undefined && !here,
  });
  const table = here ? first : further.data;
  const row = table ? rowOf(table, reference) : -1;
  const at = table?.columns.findIndex((column) => column.id === name) ?? -1;
  const column = table?.columns[at];
  if (!table || !column || row < 0)
    return (
      <Head
        title={further.isFetching ? "Fetching …" : "This cell is not there any more."}
        onBack={onBack}
        onClose={onClose}
      />
    );
  const key = table.key.map((each) => {
    const place = table.columns.findIndex((c) => c.id === each);
    const value = table.shown[row]?.[place] ?? "";
    return table.columns[place]?.numeric ? `${table.columns[place]?.label} ${value}` : value;
  });
  const symbols = cellFormula(table, column, row, "symbols", quantities);
  const full = String(table.rows[row]?.[name] ?? "");
  return (
    <div className="grid grid-cols-1 gap-3">
      <div>
        <Head title={`${upperFirst(column.label)}, ${key.join(", ")}`} onBack={onBack} onClose={onClose} />
        <p className="font-semibold font-serif text-[1.7rem] leading-tight">{table.shown[row]?.[at]}</p>
      </div>
      <div className="overflow-x-auto rounded-field bg-sheet px-3 py-2">
        <div className="py-1">
          <TeX
            tex={`\\displaystyle ${column.symbol && column.symbol !== symbols ? `${column.symbol} = ` : ""}${symbols}`}
          />
        </div>
        <div className="py-1">
          <TeX tex={`\\displaystyle = ${cellFormula(table, column, row, "numbers", quantities)}`} />
        </div>
      </div>
      <p className="flex items-center justify-between gap-2 border-base-300 border-t pt-2 text-[0.9rem]">
        <span className="break-all">
          <span className="text-muted">All digits: </span>
          {full}
        </span>
        <CopyButton label="Copy all digits" copy={() => copyText(full)} />
      </p>
    </div>
  );
}

/** ColumnCard shows the cells that a formula sums over. */
function ColumnCard({ reference, onBack, onClose }: { reference: string } & Omit<HeadProps, "title">) {
  const { solution } = useSolution();
  const { table: id, group, column } = columnOf(reference);
  const table = findTable(solution, id);
  const at = table?.columns.findIndex((each) => each.id === column) ?? -1;
  const groupAt = table?.columns.findIndex((each) => each.id === table.key[0]) ?? -1;
  if (!table || at < 0) return <Head title="These cells are not shown here." onBack={onBack} onClose={onClose} />;
  const cells = table.shown.filter((row) => group === "*" || row[groupAt] === group).map((row) => row[at]);
  return (
    <div className="grid grid-cols-1 gap-2">
      <Head title={`${table.columns[at]?.label}, ${group}`} onBack={onBack} onClose={onClose} />
      <p className="tabular-nums leading-relaxed">{cells.join("  ")}</p>
      <p className="text-muted">
        {table.total > table.rows.length
          ? "The first of the cells used; the data step has them all."
          : `The ${cells.length} cells used, as they were entered.`}
      </p>
    </div>
  );
}

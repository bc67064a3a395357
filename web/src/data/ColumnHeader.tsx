import { ArrowDown, ArrowUp, ChevronDown } from "lucide-react";
import { useRef, useState } from "react";
import type { Profile } from "../api/types";
import { useSheet } from "./context";
import { isDerived, type SheetColumn } from "./sheet";
import type { Sort } from "./sort";
import { VariablePanel } from "./VariablePanel";

interface Props {
  at: number;
  column: SheetColumn;
  selected: boolean;
  sort?: Sort;
  onSort?: (sort: Sort | undefined) => void;
  onSelect: (add: boolean) => void;
  onGo: (row: number) => void;
}

/** ColumnHeader is a variable at a glance: its name, a small picture, how many cells it has and what looks odd. */
export function ColumnHeader({ at, column, selected, sort, onSort, onSelect, onGo }: Props) {
  const { profiles, sheet, shared } = useSheet();
  const [panel, setPanel] = useState(false);
  const next = useRef(0);
  const profile = profiles.get(column.key);
  const name = column.name || (sheet.form === "groups" ? `group ${at + 1}` : `column ${at + 1}`);
  const odd = profile?.odd ?? [];
  return (
    // biome-ignore lint/a11y/useSemanticElements: a table element cannot draw only the columns in view
    // biome-ignore lint/a11y/useFocusableInteractive: its buttons are
    <div
      role="columnheader"
      aria-colindex={at + 2}
      aria-sort={sort ? (sort.down ? "descending" : "ascending") : "none"}
      data-column={column.name}
      className={`group h-full border-base-300 border-r px-2 pt-1 pb-1 ${selected ? "bg-base-300" : ""}`}
    >
      <div className="flex items-center gap-1">
        <button
          type="button"
          className={`min-w-0 flex-1 cursor-pointer truncate text-left font-semibold ${column.name ? "" : "font-normal text-muted"}`}
          aria-pressed={selected}
          title={`${column.label || name}${column.unit ? `, ${column.unit}` : ""}. Click to look at it, with Shift beside another.`}
          onClick={(event) => onSelect(event.shiftKey || event.ctrlKey || event.metaKey)}
        >
          {name}
          {column.unit && <span className="font-normal text-[0.86rem] text-muted"> {column.unit}</span>}
        </button>
        {sort &&
          (sort.down ? <ArrowDown size="0.9em" aria-hidden="true" /> : <ArrowUp size="0.9em" aria-hidden="true" />)}
        {!shared && (
          <button
            type="button"
            className="-mr-1 flex size-[24px] cursor-pointer items-center justify-center rounded text-muted hover:bg-base-100 hover:text-ink"
            aria-label={`About ${name}`}
            aria-expanded={panel}
            title="Name, unit, kind, levels …"
            onClick={() => setPanel(!panel)}
          >
            <ChevronDown size="1.1em" aria-hidden="true" />
          </button>
        )}
      </div>
      <SmallPicture profile={profile} />
      <div className="flex items-baseline gap-1.5 text-[0.82rem] text-muted leading-tight">
        {profile && profile.n + profile.missing > 0 ? (
          <>
            <span>
              {isDerived(column) ? "derived" : profile.kind === "identifier" ? "identifier" : `n ${profile.n}`}
            </span>
            {profile.missing > 0 && <span>{profile.missing} missing</span>}
            {odd.length > 0 && (
              <button
                type="button"
                className="ml-auto cursor-pointer font-semibold text-(--region-text) underline decoration-dotted underline-offset-2"
                title={odd[next.current % odd.length]?.says}
                aria-label={`${odd.length} odd in ${name}: go to it`}
                onClick={() => {
                  const row = odd[next.current++ % odd.length]?.case;
                  if (row !== undefined) onGo(row);
                }}
              >
                {odd.length} odd
              </button>
            )}
          </>
        ) : (
          <span>&nbsp;</span>
        )}
      </div>
      {panel && (
        <VariablePanel
          at={at}
          column={column}
          profile={profile}
          sort={sort}
          onSort={onSort}
          onGo={onGo}
          onClose={() => setPanel(false)}
        />
      )}
    </div>
  );
}

/** SmallPicture is a histogram of a number or the bars of a category, too small for an axis. */
function SmallPicture({ profile }: { profile: Profile | undefined }) {
  const bars = profile?.bars ?? [];
  const most = Math.max(1, ...bars);
  const step = 104 / Math.max(bars.length, profile?.kind === "number" ? 1 : 5);
  const gap = profile?.kind === "number" ? 0.6 : 2.5;
  return (
    <svg viewBox="0 0 104 18" className="my-0.5 block h-[18px] w-[104px]" aria-hidden="true">
      {bars.map((count, i) => {
        const height = count === 0 ? 0 : Math.max(1, (17 * count) / most);
        return (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: a bar is its place
            key={i}
            x={i * step}
            y={17 - height}
            width={Math.max(1, Math.min(step, 22) - gap)}
            height={height}
            fill="var(--ink)"
            fillOpacity="0.62"
          />
        );
      })}
      <line x1="0" x2="104" y1="17.5" y2="17.5" stroke="var(--color-base-300)" />
    </svg>
  );
}

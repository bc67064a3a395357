import { type ReactNode, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { type SheetView, useSheet } from "./context";
import { DataTable } from "./DataTable";
import type { GridHandle } from "./Grid";
import { type LookChoices, LookPanel } from "./LookPanel";

/** SetView is a data set: its table at the left under its heading, what is to be seen in it at the right. */
export function SetView({ heading, children }: { heading: ReactNode; children?: ReactNode }) {
  const view = useSheet();
  const { sheet } = view;
  const [params] = useSearchParams();
  const [looked, setLooked] = useState<string[]>(() => params.getAll("look"));
  const table = useRef<GridHandle>(null);
  const choices = useLookChoices(view, looked);
  // With one column a group, or a table of counts, the variables are not the columns.
  const byColumn = sheet.form === "cases";
  const lookAt = (key: number, add: boolean) => {
    const name = sheet.columns.find((column) => column.key === key)?.name.trim();
    if (!byColumn) return setLooked(choices.names.map((each) => each.value).slice(0, 2));
    if (!name) return;
    if (!add) return setLooked([name]);
    setLooked(
      [choices.chosen[0], name].filter((each, i, all): each is string => Boolean(each) && all.indexOf(each) === i),
    );
  };
  const lookedKeys = byColumn
    ? sheet.columns.filter((column) => choices.chosen.includes(column.name.trim())).map((column) => column.key)
    : [];
  return (
    <div className="grid flex-1 grid-cols-1 content-start gap-x-7 gap-y-6 px-6 py-4 max-sm:px-3 lg:grid-cols-[minmax(0,1fr)_24rem]">
      <div className="grid min-w-0 grid-cols-1 content-start gap-2 lg:sticky lg:top-16 lg:self-start">
        {heading}
        {children}
        <DataTable ref={table} height="max(20rem, calc(100dvh - 17.5rem))" looked={lookedKeys} onLook={lookAt} />
      </div>
      <aside className="min-w-0">
        <LookPanel
          choices={choices}
          problem={params.get("problem")}
          onChoose={setLooked}
          onCases={([number]) => {
            const column = sheet.columns.findIndex((each) => each.name.trim() === choices.chosen[0]);
            if (number !== undefined && byColumn) table.current?.go(number - 1, Math.max(0, column));
          }}
        />
      </aside>
    </div>
  );
}

/** useLookChoices returns the variables that can be looked at, and those that still exist of the chosen ones. */
function useLookChoices({ sheet, profiles }: SheetView, looked: string[]): LookChoices {
  return useMemo(() => {
    let names: LookChoices["names"];
    if (sheet.form === "groups") {
      names = [
        { value: "response", label: sheet.response.label || "the values" },
        { value: "group", label: sheet.group.label || "the groups" },
      ];
    } else if (sheet.form === "counts") {
      const first = sheet.columns[0]?.label || sheet.columns[0]?.name || "row";
      names = [{ value: first, label: first }];
      if (sheet.columns.length > 2)
        names.push({ value: sheet.group.label || "column", label: sheet.group.label || "the columns" });
    } else {
      names = sheet.columns
        .filter((column) => column.name.trim() && (column.kind || profiles.get(column.key)?.kind) !== "identifier")
        .map((column) => ({ value: column.name.trim(), label: column.label || column.name }));
    }
    return { names, chosen: looked.filter((name) => names.some((each) => each.value === name)) };
  }, [sheet, profiles, looked]);
}

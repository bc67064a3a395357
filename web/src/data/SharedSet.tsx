import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useMemo } from "react";
import { Fetched } from "../app/Fetched";
import { Shell } from "../app/Shell";
import { dataSetQuery, type HeldSet, pathOfSet, SheetProvider, type SheetView, useCheck } from "./context";
import { SaveAs } from "./SaveAs";
import { SetView } from "./SetView";

/** SharedSet is the data set that a link leads to: it is read, and changed by nobody here. */
export function SharedSet({ token, bar }: { token: string; bar: ReactNode }) {
  return (
    <Fetched title="Data" what="data set" fetched={useQuery(dataSetQuery(token, true))}>
      {(held) => <Page held={held} bar={bar} />}
    </Fetched>
  );
}

function Page({ held: { id, version, sheet }, bar }: { held: HeldSet; bar: ReactNode }) {
  const checked = useCheck(id, version, true);
  const view = useMemo<SheetView>(
    () => ({
      id,
      shared: true,
      version,
      sheet,
      change: () => {},
      undo: () => {},
      redo: () => {},
      flush: async () => true,
      ...checked,
    }),
    [id, version, sheet, checked],
  );
  const name = sheet.name || "Untitled data";
  return (
    <Shell title={name}>
      {bar}
      <SheetProvider value={view}>
        <SetView
          heading={
            <div>
              <div className="flex flex-wrap items-center gap-x-1">
                <h1 className="min-w-40 flex-1 font-semibold font-serif text-[1.5rem]">{name}</h1>
                <SaveAs path={`${pathOfSet({ id, shared: true })}/data-file`} />
              </div>
              {sheet.about && <p className="text-muted">{sheet.about}</p>}
            </div>
          }
        />
      </SheetProvider>
    </Shell>
  );
}

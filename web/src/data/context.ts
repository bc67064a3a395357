import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { createContext, useContext, useMemo } from "react";
import { RequestError, request, requestList } from "../api/client";
import type { DataCheck, DataListing, DataSaved, Derived, KeptSet, Profile } from "../api/types";
import { withAllCells } from "./parts";
import { freeName, patchOf, type Sheet, sheetOf, withColumn } from "./sheet";

/** A data set as the pages hold it. */
export interface HeldSet {
  id: string;
  version: number;
  demo: boolean;
  sheet: Sheet;
}

export const dataSetsQuery = queryOptions({
  queryKey: ["data-sets"],
  queryFn: () => requestList<DataListing>("/api/data-sets"),
});

/** pathOfSet is where a data set is asked: one's own, or another's by its link. */
export const pathOfSet = ({ id, shared }: Pick<SheetView, "id" | "shared">): string =>
  shared ? `/api/shared/${id}` : `/api/data-sets/${id}`;

/** wholeSet returns a data set with all its cells. One that is changed while they come is read anew. */
async function wholeSet(id: string, shared: boolean, tries = 3): Promise<KeptSet> {
  const path = pathOfSet({ id, shared });
  const kept = await request<KeptSet>("GET", shared ? `${path}/data-set` : path);
  try {
    return await allOf(kept, path);
  } catch (error) {
    if (tries > 1 && error instanceof RequestError && error.status === 409) return wholeSet(id, shared, tries - 1);
    throw error;
  }
}

/** allOf returns a data set, which is asked at a path, with the cells that did not come with it. */
export async function allOf(kept: KeptSet, path: string): Promise<KeptSet> {
  const columns = kept.set?.columns ?? [];
  await withAllCells(
    { path, version: kept.version, next: kept.next },
    columns.map(({ key, cells }) => ({ column: key, cells })),
  );
  return kept;
}

const held = (kept: KeptSet): HeldSet => ({
  id: kept.id,
  version: kept.version,
  demo: kept.demo,
  sheet: sheetOf(kept.set as NonNullable<KeptSet["set"]>),
});

/** A data set with all its cells; shared where the id is that of a link to it. */
export const dataSetQuery = (id: string, shared = false) =>
  queryOptions({
    queryKey: ["data-set", id],
    queryFn: async () => held(await wholeSet(id, shared)),
    enabled: id !== "",
    structuralSharing: false, // cells are shared by the sheet's own means
  });

/** saveSheet sends what is different in a sheet, and returns the versions that were written. */
export const saveSheet = (id: string, version: number, sheet: Sheet, kept: Sheet): Promise<DataSaved> =>
  request<DataSaved>("PATCH", `/api/data-sets/${id}`, { version, ...patchOf(sheet, kept) });

/**
 * keepDerived adds derived variables to a data set as it is now, under names that are free,
 * and returns those names and what takes them away again.
 */
export async function keepDerived(
  held: HeldSet,
  columns: Derived[],
): Promise<{ names: string[]; undo: () => Promise<void> }> {
  const names: string[] = [];
  const next = columns.reduce<Sheet>((sheet, { name, unit, formula }) => {
    const free = freeName(sheet, name);
    names.push(free);
    return withColumn(sheet, sheet.columns.length, { name: free, unit: unit ?? "", formula });
  }, held.sheet);
  const { version } = await saveSheet(held.id, held.version, next, held.sheet);
  return {
    names,
    undo: async () => {
      await saveSheet(held.id, version, held.sheet, next);
    },
  };
}

/** What every part of the data pages may look up and do. */
export interface SheetView {
  id: string;
  /** Whether it is another's, seen by the link whose id that is: it is only read. */
  shared?: boolean;
  /** Of the data set as it is kept. */
  version: number;
  sheet: Sheet;
  /** Changes the sheet; says names the change for undo. */
  change: (says: string, next: (sheet: Sheet) => Sheet) => void;
  undo: () => void;
  redo: () => void;
  /** Keeps the sheet now; false where it could not be. */
  flush: () => Promise<boolean>;
  /** What the columns hold, as of the last save; by key. */
  profiles: ReadonlyMap<number, Profile>;
  /** The cells of derived columns, by key. */
  derived: ReadonlyMap<number, string[]>;
  /** What is wrong with a cell, by column's key and row. */
  wrong: ReadonlyMap<string, string>;
  check: DataCheck | undefined;
}

const Context = createContext<SheetView | null>(null);

export const SheetProvider = Context.Provider;

/** useSheet returns the data set that is being looked at and changed. */
export function useSheet(): SheetView {
  const view = useContext(Context);
  if (!view) throw new Error("a part of a data set stands outside one");
  return view;
}

/** useCheck asks the server what the columns of a kept data set hold. */
export function useCheck(
  id: string,
  version: number,
  shared = false,
): Pick<SheetView, "profiles" | "derived" | "wrong" | "check"> {
  const path = pathOfSet({ id, shared });
  const { data: check } = useQuery({
    queryKey: ["check", id, version],
    queryFn: async () => {
      const check = await request<DataCheck>("GET", `${path}/check`);
      const keys = check.derived.map((each) => each.column);
      await withAllCells({ path, version: check.version, next: check.next }, check.derived, keys);
      return check;
    },
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return useMemo(() => {
    const keys = check?.keys ?? [];
    const wrong = new Map<string, string>();
    for (const mistake of check?.mistakes ?? []) {
      const [, , column, field, row] = mistake.pointer.split("/");
      const key = keys[Number(column)];
      if (key !== undefined) wrong.set(field === "cells" ? `${key}/${row}` : `${key}`, mistake.says);
    }
    return {
      check,
      wrong,
      profiles: new Map(check?.profiles.map((profile, i) => [keys[i] ?? -1, profile])),
      derived: new Map(check?.derived.map((each) => [each.column, each.cells])),
    };
  }, [check]);
}

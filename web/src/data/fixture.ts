import type { DataColumn, DataSet } from "../api/types";

/** column and setOf make data sets for tests. */
export const column = (key: number, name: string, cells: string[], fields: Partial<DataColumn> = {}): DataColumn => ({
  key,
  name,
  label: "",
  unit: "",
  kind: "",
  cells,
  ...fields,
});

export const setOf = (...columns: DataColumn[]): DataSet => ({
  name: "log",
  about: "",
  form: "cases",
  response: {},
  group: {},
  columns,
});

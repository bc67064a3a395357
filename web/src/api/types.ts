// Written by cmd/typegen from the Go types. Do not edit.

export interface Action {
  id: string;
  label: string;
  says?: string;
  procedure?: string;
  set?: ProblemSet[];
  compare: boolean;
}

export interface Axis {
  label: string;
  unit?: string;
  min: number | null;
  max: number | null;
}

export type Block =
  | Prose
  | FormulaBlock
  | Values
  | TableBlock
  | FigureBlock
  | HypothesesBlock
  | Check
  | Verdict
  | ReportLine;

export interface Cases {
  given: number;
  used: number;
  left_out: number;
}

export interface Check {
  kind: "check";
  condition: string;
}

export interface Choice {
  value: unknown;
  label: string;
  says?: string;
}

export interface Claim {
  text: string;
  population?: string;
  is: Side;
}

export interface Column {
  id: string;
  label: string;
  unit?: string;
  numeric: boolean;
}

export interface Condition {
  id: string;
  status: Status;
  reason: string;
  text: Piece[];
  actions: Action[];
}

export interface Control {
  id: string;
  label: string;
  key: string;
  pointer: string;
  choices: Choice[];
  free: boolean;
  beside: Place;
  value: unknown;
}

export interface Decision {
  reject: boolean;
  p: string;
  by_critical_value: boolean;
  by_p_value: boolean;
}

export interface Description {
  id: string;
  title: string;
  asks: string;
  also_called: string[];
  takes: Takes[];
  roles: ProcedureRole[];
  options: Option[];
  tails: boolean;
}

export interface Draft {
  title: string;
  question: string;
  claim: Claim;
  procedure: string;
  alpha: string;
  confidence?: number;
  tail: Tail;
  roles: Record<string, string | string[]>;
  options: Record<string, unknown>;
  leave_out: LeftOut[];
  decimals?: number;
  entry: Entry;
  response: Heading;
  group: Heading;
  columns: DraftColumn[];
  put_by?: Record<string, DraftColumn[]>;
}

export interface DraftColumn {
  name: string;
  label: string;
  unit: string;
  kind: Kind;
  levels?: string[];
  level_names?: Record<string, string>;
  cells: string[];
}

export type Entry = "cases" | "columns" | "summary";

export interface Failure {
  title: string;
  status: number;
  detail: string;
  errors?: ProblemError[];
  version?: number;
}

export interface Figure {
  id: string;
  form: Form;
  title: string;
  reads?: string;
  says: string;
  axis: Axis;
  marks: Mark[];
  handles: Handle[];
}

export interface FigureBlock {
  kind: "figure";
  figure: string;
}

export type Form = "curve" | "boxes" | "intervals";

export interface Formula {
  symbolic: string;
  numeric?: string;
  inputs: string[];
  rounding?: string;
}

export interface FormulaBlock {
  kind: "formula";
  quantity: string;
}

export interface Handle {
  id: string;
  label: string;
  pointer: string;
  at: number | null;
  min: number | null;
  max: number | null;
  step: number | null;
}

export interface Heading {
  label?: string;
  unit?: string;
}

export interface HypothesesBlock {
  kind: "hypotheses";
  null: Hypothesis;
  alternative: Hypothesis;
}

export interface Hypothesis {
  symbols: string;
  words: string;
}

export type Kind = "" | "number" | "category";

export interface LeftOut {
  case: number;
  reason?: string;
}

export interface Listing {
  id: string;
  title: string;
  question: string;
  procedure_title: string;
  demo: boolean;
  updated_at: string;
}

export interface Mark {
  shape: Shape;
  role: Role;
  label?: string;
  row?: number;
  x?: (number | null)[];
  y?: (number | null)[];
  case?: number[];
  refs?: string[];
  beyond?: boolean;
}

export interface Option {
  id: string;
  label: string;
  type: OptionType;
  says: string;
  default: unknown;
  choices?: ProcedureChoice[];
  length?: number;
  live: boolean;
  key?: string;
}

export type OptionType = "number" | "choice" | "levels";

export interface Piece {
  words?: string;
  style?: Style;
  ref?: string;
}

export type Place = "curve" | "brief";

export interface Problem {
  id: string;
  version: number;
  demo: boolean;
  updated_at: string;
  draft: Draft | null;
  kinds: Kind[];
  mistakes: ProblemError[];
}

export interface ProblemError {
  pointer: string;
  says: string;
  instead?: string;
}

export interface ProblemSet {
  pointer: string;
  value: unknown;
}

export interface ProcedureChoice {
  value: string;
  label: string;
  says?: string;
}

export interface ProcedureRole {
  id: string;
  label: string;
  says: string;
  kinds: Kind[];
  min: number;
  max: number;
  levels?: number;
}

export interface Prose {
  kind: "prose";
  tone?: Tone;
  text: Piece[];
}

export interface PutRequest {
  version: number;
  draft: Draft | null;
}

export interface Quantity {
  id: string;
  symbol: string;
  label: string;
  unit?: string;
  value: number | null;
  display: string;
  full: string;
  formula?: Formula;
  says?: string;
}

export interface ReportLine {
  kind: "report";
  text: Piece[];
}

export type Role = "observed" | "expected" | "region" | "statistic" | "p-area" | "mean";

export type Rule = "critical-value" | "p-value";

export interface Saved {
  version: number;
  kinds: Kind[];
  mistakes: ProblemError[];
}

export interface SettingsRequest {
  version: number;
  set: ProblemSet[];
}

export type Shape = "line" | "area" | "points" | "box" | "interval" | "rule";

export interface Sheet {
  names: string[];
  header: boolean;
  columns: string[][];
}

export type Side = "h0" | "h1";

export interface Solution {
  grund: number;
  procedure: string;
  title: string;
  alpha: number;
  confidence: number;
  tail: Tail;
  brief: Piece[];
  cases: Cases;
  quantities: Quantity[];
  tables: Table[];
  figures: Figure[];
  conditions: Condition[];
  decision: Decision | null;
  conclusion: string;
  report: string;
  steps: Step[];
  controls: Control[];
  notes: string[];
}

export type Status = "met" | "doubtful" | "not_met" | "not_needed";

export interface Step {
  id: StepID;
  key: string;
  opens?: string;
  title: string;
  blocks: Block[];
}

export type StepID = "question" | "data" | "look" | "hypotheses" | "conditions" | "statistic" | "critical-value" | "p-value" | "decision" | "conclusion" | "report" | "follow-up";

export type Style = "" | "emphasis" | "strong" | "symbol";

export interface Table {
  id: string;
  title: string;
  key: string[];
  columns: Column[];
  total: number;
  from: number;
  rows: Record<string, string | number | null>[];
  shown: string[][];
  refs?: string[][];
}

export interface TableBlock {
  kind: "table";
  table: string;
}

export type Tail = "both" | "left" | "right";

export type Takes = "variables" | "summary" | "counts";

export type Tone = "" | "answer" | "caution" | "aside";

export interface Values {
  kind: "values";
  quantities: string[];
}

export interface Verdict {
  kind: "verdict";
  rule: Rule;
  compare: string;
  says: string;
  reject: boolean;
  opens: string;
}

export interface WorkRequest {
  set: ProblemSet[];
  table?: string;
  from?: number;
}

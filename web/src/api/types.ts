// Written by cmd/typegen from the Go types. Do not edit.

export type AccessKind = "problem" | "data set" | "attempt" | "report" | "class" | "problem set" | "attempt for a set" | "account" | "machine";

export type AccessRole = "guest" | "member" | "instructor" | "administrator";

export interface AccountRequest {
  name?: string;
  password?: string;
  new_password?: string;
}

export interface AccountView {
  id: string;
  name: string;
  user_name?: string;
  role: AccessRole;
  created_at: string;
  sessions: SessionView[];
}

export interface Action {
  id: string;
  label: string;
  says?: string;
  procedure?: string;
  set?: ProblemSet[];
  compare: boolean;
}

export interface AnswerChoice {
  value: string;
  symbols?: string;
  words: string;
}

export interface AnswerVerdict {
  ask: string;
  verdict: string;
  rule?: string;
  slip?: string;
  says: string;
  opens?: string;
  found?: Underlined[];
}

export interface Ask {
  id: string;
  step: StepID;
  kind: string;
  label: string;
  symbol?: string;
  unit?: string;
  choices?: AnswerChoice[];
}

export interface AskList {
  grund: number;
  asks: Ask[];
}

export interface AskMark {
  ask: string;
  points: number;
  of: number;
  by_hand?: boolean;
}

export interface AskStanding {
  ask: string;
  step: StepID;
  verdict?: string;
  slip?: string;
  tries?: number;
  help?: number;
  shown?: boolean;
}

export interface AskView {
  id: string;
  step: string;
  label: string;
}

export interface AsksOfProblem {
  id: string;
  title: string;
  asks: AskView[];
}

export interface AttemptView {
  id: string;
  student: string;
  problem: string;
  standing: ProblemsetStanding;
  updated_at: string;
  marks: Record<string, ProblemsetMark>;
  needs?: string;
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
  | ReportLine
  | ControlBlock
  | ContrastBlock
  | ChoiceBlock
  | PlaceBlock
  | DeriveBlock
  | SimulationBlock
  | PowerBlock;

export interface Brought {
  id: string;
  version: number;
  title: string;
}

export interface Cases {
  given: number;
  used: number;
  left_out: number;
}

export interface CellPlace {
  row: number;
  column: number;
}

export interface CellsPart {
  version: number;
  columns: ColumnCells[];
  next: CellPlace | null;
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

export interface ChoiceBlock {
  kind: "choice";
  pointer: string;
  label: string;
  choices: Ticked[];
  drops?: string[];
  keep?: Action;
}

export interface Claim {
  text: string;
  population?: string;
  says?: Statement;
  is?: Side;
}

export interface ClaimAnswer {
  says: Statement;
  verdict: ClaimVerdict;
}

export type ClaimVerdict = "supported" | "contradicted" | "not_supported" | "not_contradicted" | "open";

export interface Class {
  below?: number;
  name: string;
}

export interface ClassList {
  classes: ClassView[];
  may_make: boolean;
}

export interface ClassRequest {
  version: number;
  name: string;
  guests: boolean;
  first_names: boolean;
  archived: boolean;
  new_code?: boolean;
}

export interface ClassView {
  id: string;
  name: string;
  in: Standing;
  archived: boolean;
  students: number;
  code?: string;
  guests: boolean;
  first_names: boolean;
  version: number;
  names?: string[];
}

export interface Classes {
  start: number;
  width: number;
}

export interface Column {
  id: string;
  label: string;
  unit?: string;
  numeric: boolean;
  formula?: string;
  symbol?: string;
  view?: string;
  bar?: boolean;
  hidden?: boolean;
}

export interface ColumnCells {
  column: number;
  cells: string[];
}

export interface Coming {
  name: string;
  title: string;
  question: string;
  procedure_title: string;
  cases: number;
  readable: boolean;
  mistakes: ProblemError[];
}

export interface Compared {
  of: string[];
  by: string;
}

export interface Condition {
  id: string;
  status: Status;
  reason: string;
  text: Piece[];
  actions: Action[];
}

export interface ContrastBlock {
  kind: "contrast";
  pointer: string;
  groups: Weighted[];
  tail: Tail;
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

export interface ControlBlock {
  kind: "control";
  control: string;
}

export interface CopiedThing {
  kind: AccessKind;
  id: string;
}

export interface CopySetRequest {
  class: string;
}

export interface CreateRequest {
  data_set?: string;
  procedure?: string;
  roles?: Record<string, string | string[]>;
  decimals?: number | Decimals;
}

export interface Crossed {
  down: string;
  across: string;
  totals: Totals;
  join?: string;
  omit?: string;
  order?: string;
  leaning: string;
}

export interface DataCheck {
  version: number;
  keys: number[];
  profiles: Profile[];
  mistakes: ProblemError[];
  derived: ColumnCells[];
  next: CellPlace | null;
}

export interface DataColumn {
  key: number;
  name: string;
  label: string;
  unit: string;
  scale?: number;
  decimals?: number;
  kind: Kind;
  levels?: string[];
  level_names?: Record<string, string>;
  formula?: string;
  recode?: Recode;
  cells: string[];
}

export type DataForm = "cases" | "groups" | "counts";

export interface DataListing {
  id: string;
  version: number;
  name: string;
  about: string;
  rows: number;
  columns: string[];
  width: number;
  problems: number;
  title: string;
  demo: boolean;
  updated_at: string;
  shared?: boolean;
}

export interface DataPatch {
  version: number;
  set: DataSet | null;
  rows: number;
  blocks: StoreBlock[];
}

export interface DataSaved {
  version: number;
  problems: Record<string, number>;
}

export interface DataSet {
  name: string;
  about: string;
  form: DataForm;
  response: Heading;
  group: Heading;
  columns: DataColumn[];
}

export interface Decimals {
  statistic?: number;
  p?: number;
  estimate?: number;
  expected?: number;
  percent?: number;
}

export interface Decision {
  reject: boolean;
  p: string;
  by_critical_value: boolean | null;
  by_p_value: boolean;
}

export interface DeedView {
  by: string;
  about?: string;
  what: string;
  at: string;
}

export interface DeleteAccountRequest {
  password?: string;
}

export interface DemoPerson {
  name: string;
  user_name: string;
  role: AccessRole;
}

export interface DeriveBlock {
  kind: "derive";
  label: string;
  columns: Derived[];
}

export interface Derived {
  name: string;
  unit?: string;
  formula: string;
}

export interface DescribeChoice {
  value: string;
  label: string;
  says?: string;
}

export interface DescribeRole {
  id: string;
  label: string;
  says: string;
  kinds: Kind[];
  min: number;
  max: number;
  levels?: number;
}

export interface Description {
  id: string;
  family: Family;
  title: string;
  asks: string;
  also_called: string[];
  takes: Takes[];
  roles: DescribeRole[];
  options: Option[];
  tails: boolean;
  directed_by?: string;
  compared?: string;
}

export interface DoneView {
  kind: string;
  ask?: string;
  text?: string;
  verdict?: string;
  slip?: string;
  at: string;
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
  leave_out_where?: LeftOutWhere[];
  decimals?: number | Decimals;
  digits?: number;
  try?: Try;
  notes?: Note[];
  pictures?: Picture[];
  entry: Entry;
  summary: DraftGroup[];
  response: Heading;
  group: Heading;
}

export interface DraftGroup {
  label: string;
  n: string;
  mean: string;
  sd: string;
}

export interface DrawRequest {
  student: string;
  begun?: boolean;
}

export interface Drawing {
  width: number;
  height: number;
  strokes: Stroke[];
}

export type Entry = "data" | "summary";

export interface Failure {
  title: string;
  status: number;
  detail: string;
  errors?: ProblemError[];
  version?: number;
}

export type Family = "Means" | "Spread and shape" | "Ranks: whatever the shape" | "Proportions" | "Counts in categories" | "Lines and correlations";

export interface Figure {
  id: string;
  form: Form;
  title: string;
  reads?: string;
  says: string;
  axis: Axis;
  up?: Axis;
  series?: string[];
  marks: Mark[];
  handles: Handle[];
  seen?: (number | null)[];
  thin?: string;
  small?: boolean;
}

export interface FigureBlock {
  kind: "figure";
  figure: string;
  views?: View[];
  actions?: Action[];
}

export interface Filter {
  column: string;
  is: Relation;
  value: string;
}

export interface Finding {
  compared: Compared;
  shown: boolean;
  says: Statement;
}

export interface First {
  label: string;
  shown: string;
}

export type Form = "curve" | "boxes" | "intervals" | "histogram" | "bars" | "scatter" | "mosaic" | "split" | "power";

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

export interface Frequency {
  code: string;
  name: string;
  count: number;
}

export interface GuideRequest {
  variables: string[];
}

export interface Handle {
  id: string;
  label: string;
  pointer: string;
  at: number | null;
  min: number | null;
  max: number | null;
  step: number | null;
  among?: (number | null)[];
  index?: number;
}

export interface Heading {
  label?: string;
  unit?: string;
}

export interface Help {
  words?: string;
  tex?: string;
}

export interface HypothesesBlock {
  kind: "hypotheses";
  compared: Compared;
  null: Hypothesis;
  alternative: Hypothesis;
}

export interface Hypothesis {
  says: Statement;
  symbols: string;
  words: string;
}

export type Ink = "black" | "red" | "green";

export interface Item {
  id: string;
  step: StepID;
  kind: string;
  label: string;
  symbol?: string;
  unit?: string;
  choices?: AnswerChoice[];
  text?: string;
  verdict?: AnswerVerdict;
  tries: number;
  help: Help[];
  helps: number;
  shown: boolean;
  left?: number;
}

export interface JoinRequest {
  code: string;
  name?: string;
}

export interface JudgedAgain {
  attempts: number;
  changed: number;
}

export interface KeepAccountRequest {
  user_name: string;
  name: string;
  password: string;
}

export interface KeepRequest {
  report?: string;
  at: string;
  away?: boolean;
}

export interface KeptForReport {
  report?: string;
  title?: string;
  at: string[];
}

export interface KeptSet {
  id: string;
  version: number;
  demo: boolean;
  updated_at: string;
  set: DataSet | null;
  next: CellPlace | null;
}

export interface KeysOfProblem {
  id: string;
  title: string;
  asks: AskView[];
  rows: KeysRow[];
}

export interface KeysRow {
  student: string;
  name: string;
  right: string[];
}

export interface KeysView {
  problems: KeysOfProblem[];
}

export type Kind = "" | "number" | "category" | "identifier";

export interface LabReport {
  id: string;
  version: number;
  updated_at: string;
  title: string;
  parts: Part[];
  pieces: LabreportPiece[];
  problems: ReportProblem[];
  of?: string;
}

export interface LabreportPiece {
  id: string;
  heading?: string;
  text?: string;
  blocks?: Block[];
  now?: string;
  changed?: string;
  gone?: string;
}

export interface LastPoll {
  poll: PollView | null;
}

export interface LeftOut {
  case: number;
  reason?: string;
}

export interface LeftOutWhere {
  where: string;
  reason: string;
}

export interface LinkRequest {
  user_name?: string;
  password: string;
}

export interface LinkView {
  user_name?: string;
}

export interface Listing {
  id: string;
  version: number;
  title: string;
  question: string;
  procedure_title: string;
  demo: boolean;
  data_set: string;
  updated_at: string;
  shared?: boolean;
}

export interface Look {
  title: string;
  says: string;
  first: First[];
  forms: Form[];
  figure: Figure | null;
  reading: string[];
  tables: Table[];
  notes: string[];
  classes?: Classes;
}

export interface MachineView {
  version: string;
  database_bytes: number;
  people: number;
  guests: number;
  migrations: MigrationView[];
}

export interface Mark {
  shape: Shape;
  role: Role;
  label?: string;
  row?: number;
  part?: number;
  x?: (number | null)[];
  y?: (number | null)[];
  case?: number[];
  refs?: string[];
  lean?: number | null;
  beyond?: boolean;
}

export interface MarksRow {
  student: StudentView;
  late: boolean;
  problems: ProblemMarks[];
  points: number;
}

export interface MarksView {
  problems: AsksOfProblem[];
  rows: MarksRow[];
  of: number;
}

export interface Me {
  person?: MePerson;
  alone: boolean;
  guests: boolean;
  demo?: DemoPerson[];
  provider?: ProviderView;
}

export interface MePerson {
  id: string;
  name: string;
  user_name?: string;
  role: AccessRole;
}

export interface MemberView {
  id: string;
  name: string;
  user_name?: string;
  in: Standing;
  link: boolean;
  seen_at: string;
}

export interface MigrationView {
  number: number;
  name: string;
  at: string;
}

export interface NewClassRequest {
  name: string;
}

export interface NewSetRequest {
  title: string;
  problems?: string[];
}

export interface NewcomerView {
  name: string;
  user_name: string;
  teaches?: boolean;
}

export interface Note {
  at: string;
  text: string;
  was?: string;
  drawing?: Drawing;
}

export interface Oddity {
  case: number;
  cell: string;
  says: string;
}

export interface OneTimeLink {
  path: string;
}

export interface OpenPollRequest {
  problem: string;
  ask: string;
}

export interface Option {
  id: string;
  label: string;
  type: OptionType;
  says: string;
  default: unknown;
  required?: boolean;
  choices?: DescribeChoice[];
  length?: number;
  of?: string;
  live: boolean;
  key?: string;
}

export type OptionType = "number" | "choice" | "levels" | "level" | "boolean" | "proportions" | "numbers" | "parameters" | "join" | "omit" | "order" | "contrast" | "references" | "places" | "lists" | "term";

export interface Part {
  id: string;
  problem?: string;
  at?: string;
  text?: string;
  was?: string;
}

export interface PersonListing {
  id: string;
  name: string;
  user_name: string;
  role: AccessRole;
  demo?: boolean;
  created_at: string;
  seen_at: string;
}

export interface Picture {
  variables: string | string[];
  form?: string;
  width?: number;
  start?: number;
  normal?: boolean;
  share?: Share;
  stack?: boolean;
}

export interface Piece {
  words?: string;
  style?: Style;
  ref?: string;
}

export type Place = "curve" | "brief" | "step";

export interface PlaceBlock {
  kind: "place";
  pointer: string;
  fields: PlaceField[];
}

export interface PlaceField {
  label: string;
  unit?: string;
  value: string;
  levels?: string[];
}

export interface PlacedNote {
  at: string;
  text: string;
  was?: string;
  drawing?: Drawing;
  step: StepID;
  about?: string;
  changed?: string;
}

export interface PollAnswerRequest {
  text: string;
}

export interface PollGroup {
  verdict: string;
  slip?: string;
  says?: string;
  count: number;
  texts: string[];
}

export interface PollListing {
  id: string;
  title: string;
  label: string;
  opened_at: string;
  answers: number;
}

export interface PollRequest {
  closed: boolean;
  revealed: boolean;
}

export interface PollView {
  id: string;
  class: string;
  title: string;
  ask: Ask;
  opened_at: string;
  closed: boolean;
  revealed: boolean;
  answers: number;
  mine?: string;
  verdict?: string;
  says?: string;
  groups: PollGroup[];
  right?: string;
}

export interface Power {
  inputs: PowerInput[];
  target: number;
  present: PowerAt;
  needed: PowerAt | null;
  says: string;
  needs: string;
  basis: string;
  figure: Figure | null;
}

export interface PowerAt {
  n: number;
  power: number | null;
  shown: string;
  sizes?: string;
}

export interface PowerBlock {
  kind: "power";
  inputs: PowerInput[];
  target: number;
}

export interface PowerInput {
  id: string;
  label: string;
  unit?: string;
  value: number;
  above: number | null;
  below: number | null;
}

export interface PowerQuestion {
  inputs: Record<string, number>;
  target?: number;
}

export interface PowerRequest {
  version?: number;
  data_version?: number;
  set: ProblemSet[];
  question: PowerQuestion;
}

export interface Preview {
  profile?: Profile;
  cells: string[];
  says?: string;
  at: number;
}

export interface PreviewRequest {
  column: DataColumn | null;
}

export interface PrintedRow {
  name: string;
  cells: string[];
}

export interface PrintedTable {
  title: string;
  says: string;
  corner: string;
  over: string;
  columns: string[];
  rows: PrintedRow[];
  areas: number[];
}

export interface Problem {
  id: string;
  shared?: boolean;
  version: number;
  demo: boolean;
  updated_at: string;
  draft: Draft | null;
  data_set: string;
  data_version: number;
  data_name: string;
  mistakes: ProblemError[];
}

export interface ProblemError {
  pointer: string;
  says: string;
  instead?: string;
}

export interface ProblemMarks {
  attempt?: string;
  points: number;
  of: number;
  asks: AskMark[];
}

export interface ProblemSet {
  pointer: string;
  value: unknown;
}

export type ProblemsetMark = "not_begun" | "at_work" | "right" | "other_rule" | "wrong" | "helped" | "shown";

export interface ProblemsetSlipMade {
  ask: string;
  slip: string;
  times: number;
}

export interface ProblemsetStanding {
  asks: AskStanding[];
  slips: ProblemsetSlipMade[];
  open?: StepID;
  answered: number;
  of: number;
}

export interface Profile {
  kind: Kind;
  n: number;
  missing: number;
  low: number;
  high: number;
  bars: number[];
  levels?: Frequency[];
  odd: Oddity[];
  suggest?: Kind;
  because?: string;
}

export interface Prose {
  kind: "prose";
  tone?: Tone;
  text: Piece[];
}

export interface ProviderView {
  name: string;
  path: string;
}

export interface PutRequest {
  version: number;
  draft: Draft | null;
  data_set?: string;
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

export interface Reading {
  set: DataSet | null;
  kinds: Kind[];
  header: boolean;
  separator: string;
  tables: string[];
  table: string;
  top: string[][];
  counts: boolean;
  totals: boolean;
  turned: boolean;
  odd: number[][];
}

export interface Recode {
  from: string;
  values?: Record<string, string>;
  classes?: Class[];
}

export type Relation = "at-least" | "at-most" | "beyond" | "same";

export interface RemarkRequest {
  ask: string;
  words?: string;
  points?: number;
}

export interface RemarkView {
  ask: string;
  words: string;
  points: number | null;
  at: string;
}

export interface ReportLine {
  kind: "report";
  text: Piece[];
  sentence?: Piece[];
  numbers?: string[];
}

export interface ReportListing {
  id: string;
  version: number;
  title: string;
  parts: number;
  of?: string;
  updated_at: string;
}

export interface ReportProblem {
  id: string;
  title: string;
  version: number;
  data_version: number;
  worked: boolean;
}

export interface ReportRequest {
  version?: number;
  title: string;
  parts: Part[];
}

export interface ReshapeRequest {
  how: string;
  name: string;
  columns?: number[];
  response?: string;
  group?: string;
  row?: string;
  column?: string;
  n?: number;
  seed?: number;
  keep?: boolean;
}

export type Role = "observed" | "expected" | "region" | "statistic" | "p-area" | "mean" | "outlier";

export interface RoleRequest {
  role: AccessRole;
}

export interface RosterPreview {
  people: NewcomerView[];
  mistakes: ProblemError[];
}

export interface RosterRequest {
  people: NewcomerView[];
}

export type Rule = "critical-value" | "p-value";

export interface Saved {
  version: number;
  data_version: number;
  mistakes: ProblemError[];
}

export interface SessionView {
  agent: string;
  created_at: string;
  seen_at: string;
}

export interface SetListing {
  id: string;
  title: string;
  class: string;
  class_name: string;
  in: Standing;
  opens: string | null;
  due: string | null;
  attempts?: number;
}

export interface SetProblem {
  id: string;
  set: string;
  set_title: string;
  person: string;
  draft: Draft | null;
  solution: boolean;
  handed_in: boolean;
  remarks: RemarkView[];
}

export interface SetProblemRequest {
  id?: string;
  from?: string;
  points?: Record<string, number>;
}

export interface SetProblemView {
  id: string;
  version: number;
  title: string;
  points: Record<string, number>;
}

export interface SetRequest {
  version: number;
  settings: Settings;
  released: boolean;
  problems: SetProblemRequest[];
}

export interface SetSheet {
  items: Item[];
  open?: StepID;
  answered: number;
  of: number;
  can_undo: boolean;
  solution: Solution | null;
  summary: Summary | null;
  version: number;
  data_version: number;
  events: number;
  begun_at?: string;
  done?: DoneView[];
}

export interface SetSolution {
  version: number;
  data_version: number;
  solution: Solution | null;
}

export interface SetTryRequest {
  version: number;
  data_version: number;
  after: number;
  kind: string;
  ask?: string;
  text?: string;
}

export interface SetView {
  id: string;
  class: string;
  class_name: string;
  version: number;
  settings: Settings;
  released: boolean;
  attempts: number;
  earlier: number;
  problems: SetProblemView[];
}

export interface Settings {
  title: string;
  about?: string;
  opens?: string;
  due?: string;
  solution: string;
  other_numbers?: boolean;
  keep?: string;
  asks?: string | string[];
  help?: number;
  tries?: number;
  digits?: number;
  try_costs?: number;
  help_costs?: number;
}

export interface SettingsRequest {
  version: number;
  set: ProblemSet[];
  steps?: number;
}

export interface Settled {
  problem: Problem;
  solution: Solution | null;
  failure: Failure | null;
}

export type Shape = "line" | "area" | "points" | "box" | "interval" | "rule" | "bar";

export type Share = "" | "total" | "row" | "column";

export interface ShareLink {
  path: string;
}

export interface SharedEvent {
  kind: string;
  ask?: string;
  text?: string;
  verdict?: string;
  slip?: string;
}

export interface SharedThing {
  kind: AccessKind;
  own?: string;
}

export interface SharedTryRequest {
  version?: number;
  data_version?: number;
  events: SharedEvent[];
  rows?: WorkRequest;
}

export type Side = "h0" | "h1";

export interface SignInRequest {
  user_name: string;
  password: string;
  bring?: boolean;
}

export interface Simulation {
  drawn: number;
  repetitions: number;
  low: number | null;
  width: number | null;
  counts: number[];
  extreme: number[];
  as_extreme: number;
  share: number | null;
  shown: string;
  p: string;
  says?: string;
  seed: number;
  observed: number | null;
}

export interface SimulationBlock {
  kind: "simulation";
  how: string;
  assumes: string;
  repetitions: number;
}

export interface SimulationRequest {
  version?: number;
  data_version?: number;
  set: ProblemSet[];
}

export interface SlipMade {
  slip: string;
  says: string;
  asked: string[];
}

export interface Solution {
  grund: number;
  procedure: string;
  title: string;
  test: string;
  question?: string;
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
  finding: Finding | null;
  claim: ClaimAnswer | null;
  conclusion: string;
  report: string;
  steps: Step[];
  controls: Control[];
  notes: string[];
  own_notes?: PlacedNote[];
  held_back?: number;
}

export interface Space {
  used: number;
  limit: number;
}

export type Standing = "" | "student" | "instructor";

export interface Standings {
  at: string;
  set: SetView;
  problems: AsksOfProblem[];
  students: StudentView[];
  attempts: AttemptView[];
  slips: Record<string, string>;
}

export type Statement = "equal" | "at_most" | "at_least" | "different" | "larger" | "smaller" | "open";

export type Status = "met" | "doubtful" | "not_met" | "not_needed";

export interface Step {
  id: StepID;
  key: string;
  opens?: string;
  title: string;
  blocks: Block[];
}

export type StepID = "question" | "data" | "look" | "hypotheses" | "conditions" | "statistic" | "critical-value" | "p-value" | "decision" | "conclusion" | "report" | "follow-up";

export interface StoreBlock {
  column: number;
  block: number;
  cells: string[];
}

export interface Stroke {
  ink: Ink;
  marker?: boolean;
  outline: number[];
}

export interface StudentView {
  id: string;
  name: string;
  handed_in: string | null;
}

export type Style = "" | "emphasis" | "strong" | "symbol";

export interface Suggestion {
  procedure: string;
  title: string;
  asks: string;
  why: string;
  roles: Record<string, string | string[]>;
}

export interface Summary {
  first_go: number;
  right: number;
  shown: number;
  helped: string[];
  slips: SlipMade[];
}

export interface Table {
  id: string;
  title: string;
  key: string[];
  columns: Column[];
  total: number;
  from: number;
  marked?: number[];
  dimmed?: boolean;
  crossed?: Crossed;
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

export interface Ticked {
  value: string;
  label: string;
  chosen: boolean;
}

export type Tone = "" | "answer" | "caution" | "aside";

export interface Totals {
  down: string;
  across: string;
}

export interface Try {
  asks?: string | string[];
  help?: number;
  tries?: number;
}

export interface TryRequest {
  version: number;
  data_version: number;
  after: number;
  kind: string;
  ask?: string;
  text?: string;
}

export interface TrySheet {
  items: Item[];
  open?: StepID;
  answered: number;
  of: number;
  can_undo: boolean;
  solution: Solution | null;
  summary: Summary | null;
  version: number;
  data_version: number;
  events: number;
  begun_at?: string;
  renewed?: boolean;
}

export interface Underlined {
  id: string;
  words: string;
  instead: string;
}

export interface Values {
  kind: "values";
  quantities: string[];
}

export interface VariantView {
  student: string;
  name: string;
  reject: boolean | null;
  p: number | null;
  margin: number | null;
  smallest_expected: number | null;
  trouble?: string;
}

export interface VariantsOfProblem {
  id: string;
  title: string;
  alpha: number;
  rows: VariantView[];
}

export interface VariantsView {
  problems: VariantsOfProblem[];
}

export interface VaryRequest {
  seed: number;
}

export interface Verdict {
  kind: "verdict";
  rule: Rule;
  opens: string;
  against: string;
  sign: string;
  reject: boolean;
  compare: string;
  says: string;
}

export interface View {
  figure: string;
  label: string;
  says: string;
}

export interface Weighted {
  code: string;
  label: string;
  weight: number | null;
}

export interface WelcomeView {
  name: string;
  user_name: string;
  path?: string;
}

export interface WorkItem {
  id: string;
  title: string;
  answered: number;
  of: number;
  remarks: number;
  points: number;
  points_of: number;
}

export interface WorkRequest {
  version?: number;
  data_version?: number;
  set: ProblemSet[];
  steps?: number;
  table?: string;
  from?: number;
  ref?: string;
  sort?: string;
  descending?: boolean;
  signed?: boolean;
  where?: Filter;
}

export interface WorkView {
  id: string;
  title: string;
  about: string;
  class_name: string;
  opens: string | null;
  due: string | null;
  late: boolean;
  handed_in: string | null;
  may_take_back: boolean;
  solution: boolean;
  preview?: boolean;
  problems: WorkItem[];
}

export interface Worked {
  version: number;
  data_version: number;
  solution: Solution;
}

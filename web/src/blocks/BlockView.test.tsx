// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import katex from "katex";
import { memo, useMemo, useState } from "react";
import { afterEach, expect, test, vi } from "vitest";
import type { Block, Figure, Quantity, Solution, Table } from "../api/types";
import { ActionsProvider } from "../solution/actions";
import { ChosenProvider } from "../solution/chosen";
import { CurrentProvider } from "../solution/current";
import { quantitiesOf, SolutionProvider } from "../solution/solution";
import { BlockView } from "./BlockView";

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const quantity = (id: string, symbol: string, display: string, more: Partial<Quantity> = {}): Quantity => ({
  id,
  symbol,
  label: id,
  value: Number(display),
  display,
  full: `${display}000`,
  says: "",
  ...more,
});

const table: Table = {
  id: "cases",
  title: "The cases used",
  key: ["case"],
  columns: [
    { id: "case", label: "case", numeric: true },
    { id: "response", label: "minutes", numeric: true },
  ],
  rows: [
    { case: 1, response: 12 },
    { case: 2, response: 14 },
  ],
  shown: [
    ["1", "12"],
    ["2", "14"],
  ],
  total: 2,
  from: 0,
} as unknown as Table;

const figure: Figure = {
  id: "look",
  form: "boxes",
  title: "minutes",
  says: "From 12 to 14.",
  thin: "2 of 4,000 dots are drawn.",
  axis: { label: "minutes", min: 10, max: 16 },
  marks: [
    { shape: "box", role: "observed", x: [12, 12.5, 13, 13.5, 14] },
    { shape: "points", role: "observed", x: [12, 14], case: [1, 2] },
  ],
  handles: [],
} as unknown as Figure;

const solution = {
  quantities: [
    quantity("mean", "\\bar{x}", "13", { formula: { symbolic: "\\frac{\\sum x}{@{n}}", inputs: ["n"] } }),
    quantity("n", "n", "2"),
  ],
  tables: [table],
  figures: [figure],
  conditions: [
    {
      id: "normality",
      status: "doubtful",
      text: [{ words: "Too few cases." }],
      actions: [{ id: "ranks", label: "Compare by ranks", says: "" }],
    },
  ],
  controls: [
    {
      id: "direction",
      label: "Direction",
      key: "",
      pointer: "/roles",
      beside: "curve",
      free: false,
      value: { response: "fuel", predictor: "minutes" },
      choices: [
        { label: "fuel from minutes", value: { response: "fuel", predictor: "minutes" } },
        { label: "minutes from fuel", value: { response: "minutes", predictor: "fuel" } },
      ],
    },
  ],
  steps: [],
} as unknown as Solution;

const view = { solution, quantities: quantitiesOf(solution), rows: () => Promise.reject(new Error("none")) };
const actions = { open: vi.fn(), change: vi.fn(), act: vi.fn() };
const Blocks = memo(function Blocks({ blocks }: { blocks: Block[] }) {
  return blocks.map((block, i) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: the blocks stay in their order
    <BlockView key={i} block={block} />
  ));
});

/** Page shows blocks and holds which cases are chosen, as the page of a problem does. */
function Page({ blocks }: { blocks: Block[] }) {
  const [cases, setCases] = useState<ReadonlySet<number>>(new Set());
  const chosen = useMemo(() => ({ chosen: cases, choose: (next: number[]) => setCases(new Set(next)) }), [cases]);
  return (
    <SolutionProvider value={view}>
      <ActionsProvider value={actions}>
        <ChosenProvider value={chosen}>
          <CurrentProvider
            value={(pointer) => (pointer === "/roles" ? { predictor: "minutes", response: "fuel" } : null)}
          >
            <Blocks blocks={blocks} />
          </CurrentProvider>
        </ChosenProvider>
      </ActionsProvider>
    </SolutionProvider>
  );
}

const show = (...blocks: Block[]) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Page blocks={blocks} />
    </QueryClientProvider>,
  );

const formula: Block = { kind: "formula", quantity: "mean" };

test("a number of a formula opens", async () => {
  const { container } = show(formula);
  fireEvent.click(screen.getByRole("button", { name: "13" }));
  expect(actions.open).toHaveBeenLastCalledWith("mean", expect.anything());
  await waitFor(() => expect(container.querySelector('[data-ref="n"]')).not.toBeNull());
  fireEvent.click(container.querySelector('[data-ref="n"]') as Element);
  expect(actions.open).toHaveBeenLastCalledWith("n", expect.anything());
});

test("choosing a case lights it up in the figure and the table, and sets no formula anew", async () => {
  const set = vi.spyOn(katex, "renderToString");
  const { container } = show(formula, { kind: "figure", figure: "look" }, { kind: "table", table: "cases" });
  await waitFor(() => expect(container.querySelector(".katex")).not.toBeNull());
  const formulas = set.mock.calls.length;
  expect(formulas).toBe(2); // in symbols, and with numbers
  const dots = () => [...container.querySelectorAll("circle")].map((dot) => dot.getAttribute("r"));
  expect(dots()).toEqual(["2", "2"]);
  fireEvent.click(screen.getByRole("button", { name: "Case 2" }));
  expect(dots()).toEqual(["2", "4"]);
  expect(screen.getByRole("button", { name: "Case 2" }).getAttribute("aria-pressed")).toBe("true");
  fireEvent.click(container.querySelectorAll("circle")[0] as Element);
  expect(dots()).toEqual(["4", "2"]);
  expect(screen.getByRole("button", { name: "Case 1" }).getAttribute("aria-pressed")).toBe("true");
  expect(set.mock.calls.length).toBe(formulas);
});

test("a number in the row of a case opens, and does not choose the case", () => {
  const refs = [
    ["", ""],
    ["", "cases/2/response"],
  ];
  const cells = { ...table, refs } as unknown as Table;
  const shown = { ...view, solution: { ...solution, tables: [cells] } };
  const choose = vi.fn();
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SolutionProvider value={shown}>
        <ActionsProvider value={actions}>
          <ChosenProvider value={{ chosen: new Set(), choose }}>
            <BlockView block={{ kind: "table", table: "cases" }} />
          </ChosenProvider>
        </ActionsProvider>
      </SolutionProvider>
    </QueryClientProvider>,
  );
  fireEvent.click(screen.getByRole("button", { name: "14" }));
  expect(actions.open).toHaveBeenLastCalledWith("cases/2/response", expect.anything());
  expect(choose).not.toHaveBeenCalled();
  fireEvent.click(screen.getByText("12"));
  expect(choose).toHaveBeenLastCalledWith([1]);
});

test("a figure with fewer dots than cases says so", () => {
  show({ kind: "figure", figure: "look" });
  expect(screen.getByText("2 of 4,000 dots are drawn.")).toBeTruthy();
});

test("a condition shows how it stands and its way out", () => {
  show({ kind: "check", condition: "normality" });
  expect(screen.getByRole("img", { name: "Doubtful" })).toBeTruthy();
  fireEvent.click(screen.getByRole("button", { name: "Compare by ranks" }));
  expect(actions.act).toHaveBeenLastCalledWith(expect.objectContaining({ id: "ranks" }));
});

test("the choice that stands in the problem is pressed, in whatever order its parts are written", () => {
  show({ kind: "control", control: "direction" });
  const pressed = (name: string) => screen.getByRole("button", { name }).getAttribute("aria-pressed");
  expect([pressed("fuel from minutes"), pressed("minutes from fuel")]).toEqual(["true", "false"]);
  fireEvent.click(screen.getByRole("button", { name: "minutes from fuel" }));
  const turned = { response: "minutes", predictor: "fuel" };
  expect(actions.change).toHaveBeenLastCalledWith([{ pointer: "/roles", value: turned }], "Direction");
});

test("what a solution up to a step has not is not drawn", () => {
  const { container } = show(
    { kind: "formula", quantity: "p" },
    { kind: "table", table: "later" },
    { kind: "figure", figure: "later" },
    { kind: "check", condition: "later" },
    { kind: "control", control: "later" },
  );
  expect(container.textContent).toBe("");
});

// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import type { Figure, Handle, Mark, Simulation } from "../api/types";
import { ActionsProvider } from "../solution/actions";
import { ChosenProvider } from "../solution/chosen";
import { type Simulating, SimulatingProvider } from "../solution/simulating";
import { FigureView } from "./FigureView";
import { LongFigure } from "./LongFigure";

const actions = { open: vi.fn(), change: vi.fn(), act: vi.fn() };

beforeEach(() => vi.clearAllMocks());
afterEach(cleanup);

const figureOf = (form: Figure["form"], marks: Mark[], more: Partial<Figure> = {}): Figure => ({
  id: "f",
  form,
  title: "A picture",
  says: "What it shows.",
  axis: { label: "minutes", min: 0, max: 100, unit: "min" },
  marks,
  handles: [],
  ...more,
});

const handleOf = (more: Partial<Handle> = {}): Handle => ({
  id: "h",
  label: "Mean under H₀",
  pointer: "/options/mean",
  at: 40,
  min: 0,
  max: 100,
  step: 5,
  ...more,
});

/** Page holds which cases are chosen. */
function Page({ figure, simulation }: { figure: Figure; simulation?: Simulation }) {
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const simulating = simulation ? ({ state: simulation } as Simulating) : null;
  return (
    <ActionsProvider value={actions}>
      <ChosenProvider value={{ chosen, choose: (cases) => setChosen(new Set(cases)) }}>
        <SimulatingProvider value={simulating}>
          <LongFigure figure={figure} width={400} />
        </SimulatingProvider>
      </ChosenProvider>
    </ActionsProvider>
  );
}

const show = (figure: Figure, simulation?: Simulation) => {
  const { container } = render(<Page figure={figure} simulation={simulation} />);
  const all = (selector: string) => [...container.querySelectorAll(selector)];
  const numbers = (selector: string, name: string) => all(selector).map((each) => Number(each.getAttribute(name)));
  return { container, all, numbers };
};

describe("every form", () => {
  test.each<Figure["form"]>([
    "curve",
    "boxes",
    "intervals",
    "histogram",
    "bars",
    "mosaic",
    "split",
    "scatter",
    "power",
  ])("%s has its text, and ways to copy it, though it holds nothing", (form) => {
    show(figureOf(form, [], { up: { label: "fuel", min: 0, max: 1 } }));
    expect(screen.getByRole("img", { name: "What it shows." })).toBeTruthy();
    expect(screen.getAllByRole("button").map((button) => button.textContent)).toEqual([
      "Copy",
      "PNG, 8 cm wide, a column",
      "PNG, 16 cm wide, a page",
      "With its caption",
      "SVG",
    ]);
  });
});

describe("a curve", () => {
  const curve = figureOf("curve", [
    { shape: "line", role: "expected", x: [-4, 0, 4], y: [0, 0.4, 0] },
    { shape: "area", role: "region", x: [2, 4], y: [0.1, 0] },
    { shape: "area", role: "p-area", x: [3, 4], y: [0.05, 0] },
    { shape: "rule", role: "region", label: "2.000", x: [2], refs: ["critical_high"] },
    { shape: "rule", role: "statistic", label: "t = 3.000", x: [3], refs: ["t"] },
  ]);
  const axis = { label: "t", min: -4, max: 4 };

  test("has its numbers open", () => {
    show({ ...curve, axis });
    fireEvent.click(screen.getByText("t = 3.000"));
    expect(actions.open).toHaveBeenLastCalledWith("t", expect.anything());
    fireEvent.click(screen.getByText("2.000"));
    expect(actions.open).toHaveBeenLastCalledWith("critical_high", expect.anything());
  });

  test("says by an arrow that the statistic lies beyond it", () => {
    show({ ...curve, axis, marks: curve.marks.map((mark) => ({ ...mark, beyond: mark.role === "statistic" })) });
    expect(screen.getByText("t = 3.000 →")).toBeTruthy();
  });

  test("shows of what the steps have found no more than there is", () => {
    const { all } = show({ ...curve, axis, marks: curve.marks.slice(0, 1) });
    expect(all("path[fill^=url]")).toHaveLength(0);
    expect(screen.queryByText("t = 3.000")).toBeNull();
  });

  test("has the samples drawn behind it, those filled that are as extreme", () => {
    const drawn = { counts: [10, 0, 30, 20], extreme: [10, 0, 0, 5], low: -4, width: 2, repetitions: 60, drawn: 60 };
    const { all, numbers } = show({ ...curve, axis }, drawn as unknown as Simulation);
    expect(all('[data-testid="simulated-bars"] g')).toHaveLength(3);
    const heights = numbers('[data-testid="simulated-bars"] rect', "height");
    const [first = 0, firstExtreme = 0, second = 0, third = 0, thirdExtreme = 0] = heights;
    expect(firstExtreme).toBeCloseTo(first);
    expect(second / first).toBeCloseTo(3);
    expect(third / first).toBeCloseTo(2);
    expect(thirdExtreme / third).toBeCloseTo(0.25);
  });
});

describe("boxes", () => {
  const boxes = figureOf("boxes", [
    { shape: "box", role: "observed", label: "Mole", row: 0, x: [10, 20, 30, 50, 70] },
    { shape: "points", role: "mean", row: 0, x: [35] },
    { shape: "points", role: "outlier", row: 0, x: [95], case: [4] },
    { shape: "points", role: "observed", row: 0, x: [10, 30, 30, 95], case: [1, 2, 3, 4] },
    { shape: "rule", role: "expected", label: "H₀", x: [40] },
  ]);

  test("have a dot for each case, which is chosen and lit up", () => {
    const { all } = show(boxes);
    const dots = () => all("circle[r='2'], circle[r='4']");
    expect(dots()).toHaveLength(4);
    fireEvent.click(screen.getByText("case 2: 30").parentElement as Element);
    expect(dots().map((dot) => dot.getAttribute("r"))).toEqual(["2", "4", "2", "2"]);
  });

  test("stack equal cases, and number the one that stands out", () => {
    const { numbers } = show(boxes);
    const [first, second, third] = numbers("circle[r='2']", "cy");
    expect(second).toBe(first);
    expect(third).toBeGreaterThan(second ?? 0);
    fireEvent.click(screen.getByText("4").parentElement as Element);
    expect(numbers("circle[r='4']", "cx")).toHaveLength(1);
  });

  test("lie on the scale of the axis", () => {
    const { numbers } = show(boxes);
    const ends = numbers("g[stroke] > line", "x1").slice(0, 3);
    const [low = 0, upper = 0, median = 0] = ends;
    // 10, 50 and 30 of the values: the median lies half way.
    expect((median - low) / (upper - low)).toBeCloseTo(0.5);
  });
});

describe("intervals", () => {
  const interval = (row: number, x: Mark["x"], label?: string): Mark => ({
    shape: "interval",
    role: "observed",
    row,
    label,
    x,
  });
  const stated: Mark = { shape: "rule", role: "expected", label: "H₀", x: [40] };

  test("end in a stroke, or in an arrow where they are open, beside the name", () => {
    const { all, numbers } = show(
      figureOf("intervals", [
        interval(0, [20, 50, 80], "Mole"),
        interval(1, [null, 50, 80], "Quarry"),
        interval(2, [20, 50, null], "Lantern"),
      ]),
    );
    const arrows = all("figure > svg path").map((path) => path.getAttribute("d") ?? "");
    expect(arrows).toHaveLength(2);
    const names = Math.max(...numbers("text[text-anchor='end'].font-semibold", "x"));
    const [back = 0, tip = 0] = [...(arrows[0] ?? "").matchAll(/[ML] ([\d.]+)/g)].map((match) => Number(match[1]));
    expect(tip).toBeLessThan(back);
    expect(tip).toBeGreaterThan(names);
    const [, right = 0] = [...(arrows[1] ?? "").matchAll(/[ML] ([\d.]+)/g)].map((match) => Number(match[1]));
    expect(right).toBeLessThanOrEqual(400);
    expect(right).toBeGreaterThan(380);
  });

  test("of very many the first are shown, and all on demand; what H₀ states stays", () => {
    const marks = Array.from({ length: 30 }, (_, row) => interval(row, [20, 50, 80], `pair ${row}`));
    const { all } = show(figureOf("intervals", [...marks, stated]));
    expect(all("circle[r='5']")).toHaveLength(16);
    expect(all("line[stroke-dasharray]")).toHaveLength(1);
    fireEvent.click(screen.getByRole("button", { name: "All 30 intervals" }));
    expect(all("circle[r='5']")).toHaveLength(30);
    fireEvent.click(screen.getByRole("button", { name: "The first 16 intervals only" }));
    expect(all("circle[r='5']")).toHaveLength(16);
  });

  test("let what H₀ states be moved by key, within its bounds", () => {
    show(figureOf("intervals", [interval(0, [20, 50, 80]), stated], { handles: [handleOf()] }));
    const slider = screen.getByRole("slider", { name: "Mean under H₀" });
    expect(slider.getAttribute("aria-valuenow")).toBe("40");
    for (const [key, value] of [
      ["ArrowRight", 45],
      ["ArrowLeft", 35],
      ["PageUp", 90],
      ["PageDown", 0],
    ] as const) {
      fireEvent.keyDown(slider, { key });
      expect(actions.change).toHaveBeenLastCalledWith([{ pointer: "/options/mean", value }], "Mean under H₀");
    }
    fireEvent.keyDown(slider, { key: "a" });
    expect(actions.change).toHaveBeenCalledTimes(4);
  });

  test("and by typing; what is no number stays to be mended", () => {
    show(figureOf("intervals", [interval(0, [20, 50, 80]), stated], { handles: [handleOf()] }));
    const field = screen.getByRole("textbox", { name: "Mean under H₀" });
    fireEvent.change(field, { target: { value: "4o" } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(field.getAttribute("aria-invalid")).toBe("true");
    fireEvent.change(field, { target: { value: "47,5" } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(actions.change.mock.calls).toEqual([[[{ pointer: "/options/mean", value: 47.5 }], "Mean under H₀"]]);
    fireEvent.change(field, { target: { value: "1" } });
    fireEvent.keyDown(field, { key: "Escape" });
    expect((field as HTMLInputElement).value).toBe("40");
  });
});

describe("a histogram", () => {
  const bar = (from: number, to: number, count: number): Mark => ({
    shape: "bar",
    role: "observed",
    x: [from, to],
    y: [count],
  });
  const among = [0, 20, 50, 100];
  const boundary = (index: number) =>
    handleOf({
      id: `b${index}`,
      label: `Boundary ${index}`,
      pointer: "/options/boundaries",
      at: among[index] ?? 0,
      among,
      index,
      step: 1,
    });
  const histogram = figureOf("histogram", [bar(0, 20, 10), bar(20, 50, 30), bar(50, 100, 20)], {
    up: { label: "cases", min: 0, max: 30 },
    handles: [boundary(1), boundary(2)],
  });

  test("has bars as high as their counts, over their classes", () => {
    const { numbers } = show(histogram);
    const bars = "rect[fill='var(--ink)']";
    const [first = 0, second = 0, third = 0] = numbers(bars, "height");
    expect([second / first, third / first]).toEqual([expect.closeTo(3), expect.closeTo(2)]);
    const [narrow = 0, wider = 0, widest = 0] = numbers(bars, "width").map((width) => width + 1); // less the gap
    expect([wider / narrow, widest / narrow]).toEqual([expect.closeTo(1.5), expect.closeTo(2.5)]);
    expect(screen.getByText("from 20 to 50: 30")).toBeTruthy();
  });

  test("moves one boundary among the others", () => {
    show(histogram);
    fireEvent.keyDown(screen.getByRole("slider", { name: "Boundary 2" }), { key: "ArrowRight" });
    expect(actions.change).toHaveBeenLastCalledWith(
      [{ pointer: "/options/boundaries", value: [0, 20, 51, 100] }],
      "Boundary 2",
    );
  });
});

describe("a scatter", () => {
  const scatter = figureOf(
    "scatter",
    [
      { shape: "area", role: "expected", label: "band", x: [0, 100, 100, 0], y: [0, 8, 12, 4] },
      { shape: "line", role: "statistic", x: [0, 100], y: [2, 10] },
      { shape: "points", role: "observed", x: [25, 50, 75], y: [4, 9, null], case: [1, 2, 3] },
      { shape: "interval", role: "expected", x: [50], y: [4, 6, 8] },
    ],
    { up: { label: "Fuel", min: 0, max: 12, unit: "L" }, seen: [20, 80] },
  );

  test("has a dot for each case that has both values", () => {
    const { all } = show(scatter);
    expect(all("circle[r='2.6']")).toHaveLength(2);
    expect(screen.getByText("Fuel (L)")).toBeTruthy();
  });

  test("says of a chosen case how far it lies from the line", () => {
    const { all } = show(scatter);
    fireEvent.click(screen.getByText("case 2: 50, 9").parentElement as Element);
    expect(all("circle[r='4.5']").length).toBeGreaterThan(0);
    expect(screen.getByText("3\u00a0L more than expected", { collapseWhitespace: false })).toBeTruthy(); // 9 against 2 + 8·50/100 = 6
  });

  test("says where nothing was observed", () => {
    show(scatter);
    expect(screen.getAllByText("no cases here")).toHaveLength(2);
  });
});

test("bars part a row by the shares of its parts, or put them beside each other", () => {
  const part = (row: number, at: number, x: [number, number]): Mark => ({
    shape: "bar",
    role: "observed",
    label: `row ${row}`,
    row,
    part: at,
    x,
  });
  const stacked = show(
    figureOf("bars", [part(0, 0, [0, 25]), part(0, 1, [25, 100])], { series: ["single", "return"] }),
  );
  const [first = 0, second = 0] = stacked.numbers("rect[height='13.5']", "width");
  expect(second / first).toBeCloseTo(3);
  expect(screen.getByText("row 0, single: 25min")).toBeTruthy();
  expect(screen.getByText("row 0, return: 75min")).toBeTruthy();
});

test("a mosaic has areas in proportion to the counts", () => {
  const cell = (row: number, at: number, x: [number, number], y: [number, number]): Mark => ({
    shape: "bar",
    role: "observed",
    label: `row ${row}`,
    row,
    part: at,
    x,
    y,
  });
  const { all, numbers } = show(
    figureOf(
      "mosaic",
      [
        cell(0, 0, [0, 50], [0, 25]),
        cell(0, 1, [50, 100], [0, 25]),
        cell(1, 0, [0, 20], [25, 100]),
        cell(1, 1, [20, 100], [25, 100]),
      ],
      {
        series: ["single", "return"],
      },
    ),
  );
  const cells = "rect[stroke-width='0.9']";
  expect(all(cells)).toHaveLength(4);
  const areas = all(cells).map(
    (_, i) => ((numbers(cells, "width")[i] ?? 0) + 3) * ((numbers(cells, "height")[i] ?? 0) + 3),
  ); // with the gaps
  const whole = areas.reduce((sum, area) => sum + area, 0);
  for (const [i, share] of [0.125, 0.125, 0.15, 0.6].entries()) expect((areas[i] ?? 0) / whole).toBeCloseTo(share, 1);
});

test("a figure that is drawn anew without a simulation has no bars", () => {
  const { container } = render(<FigureView figure={figureOf("curve", [])} width={400} />);
  expect(container.querySelector('[data-testid="simulated-bars"]')).toBeNull();
});

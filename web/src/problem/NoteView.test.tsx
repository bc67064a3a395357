// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Note, PlacedNote, ProblemSet, Quantity, Solution } from "../api/types";
import { NoteHere } from "../notes/NoteHere";
import { ActionsProvider } from "../solution/actions";
import { CurrentProvider } from "../solution/current";
import { SolutionProvider, type SolutionView } from "../solution/solution";
import { NumberNotes, useStepNotes } from "./NoteView";

const change = vi.fn();

beforeEach(() => vi.clearAllMocks());
afterEach(cleanup);

const quantities = new Map([["se", { id: "se", display: "0.61" } as Quantity]]);

/** StepNotes are the notes of a step, in the margin and in the step. */
function StepNotes({ step, withMargin }: { step: string; withMargin: boolean }) {
  const { margin, text } = useStepNotes(step, withMargin);
  return (
    <>
      <div data-margin="">{margin}</div>
      <section aria-label="step">{text}</section>
    </>
  );
}

/** Page keeps notes as the problem does. */
function Page({
  first,
  placed = [],
  keepsNotes = true,
  withMargin = false,
}: {
  first: Note[];
  placed?: PlacedNote[];
  keepsNotes?: boolean;
  withMargin?: boolean;
}) {
  const [notes, setNotes] = useState<Note[] | null>(first);
  const view = {
    solution: { own_notes: placed } as unknown as Solution,
    quantities,
    keepsNotes,
    rows: vi.fn(),
  } satisfies SolutionView;
  const actions = {
    open: vi.fn(),
    act: vi.fn(),
    change: (set: ProblemSet[], says: string) => {
      change(set, says);
      setNotes(set[0]?.value as Note[] | null);
    },
  };
  return (
    <QueryClientProvider client={new QueryClient()}>
      <SolutionProvider value={view}>
        <ActionsProvider value={actions}>
          <CurrentProvider value={() => notes}>
            <StepNotes step="statistic" withMargin={withMargin} />
            <section aria-label="card">
              <NumberNotes id="se" />
            </section>
            <section aria-label="table">
              <NoteHere at="table/cases" about="the table">
                {(button, editor) => (
                  <>
                    {button}
                    {editor}
                  </>
                )}
              </NoteHere>
            </section>
          </CurrentProvider>
        </ActionsProvider>
      </SolutionProvider>
    </QueryClientProvider>
  );
}

/** within clicks a button of a part of the page. */
const press = (part: string, name: string) => {
  const section = document.querySelector(`[aria-label="${part}"]`) as Element;
  const buttons = [...section.querySelectorAll("button")];
  const button = buttons.find((each) => (each.getAttribute("aria-label") ?? each.textContent) === name);
  fireEvent.click(button as Element);
};

/** type writes into the field that is open, and leaves it. */
const type = (text: string) => {
  fireEvent.change(screen.getByRole("textbox"), { target: { value: text } });
  fireEvent.blur(screen.getByRole("textbox"));
};

const kept = () => change.mock.calls.at(-1)?.[0][0].value as Note[] | null;

const atStep: Note = { at: "step/statistic", text: "of the step" };
const atNumber: Note = { at: "number/se", text: "of *se*", was: "0.57" };
const placed: PlacedNote[] = [
  { ...atStep, step: "statistic" },
  { ...atNumber, step: "statistic", about: "Standard error (0.61)", changed: "It was 0.57 when this was written." },
];

test("notes stand with their step, and say what they are about and what has changed", () => {
  render(<Page first={[atStep, atNumber, { at: "step/look", text: "elsewhere" }]} placed={placed} />);
  const step = document.querySelector('[aria-label="step"]')?.textContent;
  expect(step).toContain("of the step");
  expect(step).toContain("Standard error (0.61)");
  expect(step).toContain("It was 0.57 when this was written.");
  expect(step).not.toContain("elsewhere");
  expect(document.querySelector('[aria-label="step"] em')?.textContent).toBe("se");
});

test("a note is written at a step, and another after it", () => {
  render(<Page first={[]} />);
  press("step", "Add a note");
  type("one");
  press("step", "Add a note");
  type("two");
  expect(kept()).toEqual([
    { at: "step/statistic", text: "one" },
    { at: "step/statistic", text: "two" },
  ]);
  expect(change.mock.calls.map(([, says]) => says)).toEqual(["a note", "a note"]);
});

test("one at a number remembers how it stands, and one at a table has its place", () => {
  render(<Page first={[]} />);
  press("card", "Add a note");
  type("why");
  press("table", "Add a note to the table");
  type("all of them");
  expect(kept()).toEqual([
    { at: "number/se", text: "why", was: "0.61" },
    { at: "table/cases", text: "all of them" },
  ]);
});

test("a note is changed in its place; the number is remembered anew only where the words are others", () => {
  render(<Page first={[atStep, atNumber]} placed={placed} />);
  press("card", "Change the note");
  fireEvent.blur(screen.getByRole("textbox"));
  expect(change).not.toHaveBeenCalled();
  press("card", "Change the note");
  type("of se, again");
  expect(kept()).toEqual([atStep, { at: "number/se", text: "of se, again", was: "0.61" }]);
});

test("a note without words is taken away, and with the last of them the field", () => {
  render(<Page first={[atStep]} placed={placed} />);
  press("step", "Change the note");
  type("  ");
  expect(kept()).toBeNull();
  expect(change.mock.calls.at(-1)?.[1]).toBe("a note taken away");
  press("step", "Add a note");
  type("");
  expect(change).toHaveBeenCalledTimes(1); // nothing was written
});

test("where nothing is kept, no note is offered at numbers and tables", () => {
  render(<Page first={[]} keepsNotes={false} />);
  expect(document.querySelector('[aria-label="card"] button')).toBeNull();
  expect(document.querySelector('[aria-label="table"] button')).toBeNull();
});

test("another's notes are read, and not written", () => {
  render(<Page first={[atStep, { at: "number/se", text: "of the number" }]} keepsNotes={false} />);
  expect(document.querySelector('[aria-label="step"]')?.textContent).toBe("of the step");
  expect(document.querySelector('[aria-label="card"]')?.textContent).toContain("of the number");
  expect(screen.queryByLabelText("Change the note")).toBeNull();
  expect(screen.queryByText("Add a note")).toBeNull();
});

test("where there is room notes stand in the margin; what is written on, and a drawing, stands in the step", () => {
  const drawing = { width: 9, height: 9, strokes: [{ ink: "red" as const, outline: [0, 0, 9, 0, 9, 9] }] };
  const drawn: Note = { at: "step/statistic", text: "", drawing };
  render(<Page first={[atStep, drawn]} placed={[]} withMargin />);
  const margin = () => document.querySelector("[data-margin]")?.textContent;
  const step = () => document.querySelector('[aria-label="step"]') as Element;
  expect(margin()).toBe("of the step");
  expect(step().querySelector("polygon")?.getAttribute("points")).toBe("0 0 9 0 9 9");
  expect(screen.getByRole("img").getAttribute("aria-label")).toBe("A drawing by hand: 1 stroke.");
  fireEvent.click(screen.getAllByLabelText("Change the note")[0] as Element);
  expect(margin()).toBe("");
  type("of the step, too");
  expect(margin()).toBe("of the step, too");
});

test("a drawing stays without words, and is thrown away by its own button", () => {
  const drawn: Note = { at: "step/statistic", text: "", drawing: { width: 9, height: 9, strokes: [] } };
  render(<Page first={[drawn, atStep]} />);
  press("step", "Change the note");
  type("a circle");
  expect(kept()?.[0]).toEqual({ ...drawn, text: "a circle" });
  press("step", "Change the note");
  type("");
  expect(kept()?.[0]).toEqual(drawn);
  press("step", "Throw the drawing away");
  expect(kept()).toEqual([atStep]);
  expect(change.mock.calls.at(-1)?.[1]).toBe("a note taken away");
});

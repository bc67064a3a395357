// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, expect, test, vi } from "vitest";
import type { Part, Quantity, Solution } from "../api/types";
import { SolutionProvider } from "../solution/solution";
import { Paragraph } from "./Paragraph";

vi.mock("./Piece", () => ({
  OfProblem: ({ problem, children }: { problem: { id: string }; children: React.ReactNode }) => {
    const t = { id: "t", label: "t statistic", display: problem.id === "a" ? "2.06" : "7.7" } as Quantity;
    const view = { solution: { quantities: [t] } as unknown as Solution, quantities: new Map(), rows: vi.fn() };
    return <SolutionProvider value={view}>{children}</SolutionProvider>;
  },
}));

const problem = (id: string, worked = true) => ({ id, title: `Problem ${id}`, version: 1, data_version: 1, worked });
const leave = vi.fn();
afterEach(() => {
  cleanup();
  vi.clearAllMocks();
});

let now: Part;
function Page({ part, problems = [problem("a"), problem("b")], begins = true, text = "" }: Partial<Props>) {
  const [written, setWritten] = useState<Part>(part ?? { id: "p", text: "" });
  now = written;
  return (
    <Paragraph
      report="r"
      part={written}
      text={text}
      problems={problems}
      begins={begins}
      onWrite={(change) => setWritten({ ...written, ...change })}
      onLeave={leave}
    />
  );
}
interface Props {
  part: Part;
  problems: ReturnType<typeof problem>[];
  begins: boolean;
  text: string;
}

test("a number is quoted where the hand is, of the problem that the paragraph is of", () => {
  render(<Page part={{ id: "p", text: "It is  now.", problem: "b" }} />);
  const field = screen.getByRole("textbox") as HTMLTextAreaElement;
  field.setSelectionRange(6, 6);
  expect(screen.getByText("t statistic: 7.7")).toBeTruthy();
  fireEvent.change(screen.getByLabelText("Quote a number"), { target: { value: "t" } });
  expect(now).toEqual({ id: "p", text: "It is @{t} now.", problem: "b" });
  fireEvent.change(screen.getByLabelText("Quote from the problem"), { target: { value: "a" } });
  expect(now.problem).toBe("a");
  expect(screen.getByText("t statistic: 2.06")).toBeTruthy();
});

test("one of no problem quotes of the first that there is, from then on", () => {
  render(<Page problems={[problem("a")]} />);
  expect(screen.queryByLabelText("Quote from the problem")).toBeNull();
  fireEvent.change(screen.getByLabelText("Quote a number"), { target: { value: "t" } });
  expect(now).toEqual({ id: "p", text: "@{t}", problem: "a" });
});

test("of a problem that cannot be worked, and of one that is gone, nothing is offered", () => {
  render(<Page part={{ id: "p", text: "", problem: "a" }} problems={[problem("a", false)]} />);
  expect(screen.queryByLabelText("Quote a number")).toBeNull();
  cleanup();
  render(<Page part={{ id: "p", text: "", problem: "gone" }} />);
  expect(screen.queryByLabelText("Quote a number")).toBeNull();
});

test("it is left with Escape, and says when nothing stands in it", () => {
  render(<Page />);
  fireEvent.keyDown(screen.getByRole("textbox"), { key: "Escape" });
  expect(leave).toHaveBeenLastCalledWith(true);
  cleanup();
  render(<Page part={{ id: "p", text: "So." }} text="So." />);
  fireEvent.blur(screen.getByRole("textbox"), { relatedTarget: screen.getByLabelText("Quote a number") });
  expect(leave).toHaveBeenCalledTimes(1); // the focus is still in it
  fireEvent.blur(screen.getByRole("textbox"));
  expect(leave).toHaveBeenLastCalledWith(false);
  expect(screen.queryByRole("textbox")).toBeNull();
});

test("headings, emphasis and paragraphs are set, and markup is none", () => {
  render(<Page begins={false} text={"# Found\n\nIt is *so* <b>bold</b>.\n\n####### not"} />);
  expect(screen.getByRole("heading", { level: 2 }).textContent).toBe("Found");
  expect(document.querySelector("em")?.textContent).toBe("so");
  expect(document.querySelector("b")).toBeNull();
  expect(document.body.textContent).toContain("<b>bold</b>");
  expect(document.body.textContent).toContain("####### not");
});

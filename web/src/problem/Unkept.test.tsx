// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { Saving } from "../lib/keeping";
import { Unkept } from "./Unkept";

afterEach(cleanup);

const keeping = { keepMine: vi.fn(), takeTheirs: vi.fn(), undo: vi.fn(), flush: vi.fn() };

const show = (saving: Saving, trouble = "", failure?: string) =>
  // biome-ignore lint/suspicious/noExplicitAny: only what the bar calls
  render(<Unkept kept={{ saving, trouble, keeping: keeping as any }} failure={failure} />);

test.each<[Saving, string, string | undefined, string, [string, keyof typeof keeping][]]>([
  [
    "conflict",
    "It is version 5 now.",
    undefined,
    "changed elsewhere. What you chose here is not lost; the solution below is the one before.",
    [
      ["Keep what I chose here", "keepMine"],
      ["Show the other version", "takeTheirs"],
    ],
  ],
  [
    "refused",
    "Alpha lies between 0 and 1.",
    undefined,
    "Alpha lies between 0 and 1. The solution below is the one before.",
    [["Undo it", "undo"]],
  ],
  [
    "offline",
    "Grund does not answer.",
    undefined,
    "not kept yet, and the solution below is the one before. Grund does not answer.",
    [["Try again", "flush"]],
  ],
  ["kept", "", "It took too long.", "It took too long. The solution below is the one before.", []],
])("%s", (saving, trouble, failure, says, buttons) => {
  show(saving, trouble, failure);
  expect(screen.getByRole("alert").textContent).toContain(says);
  expect(screen.queryAllByRole("button").map((button) => button.textContent)).toEqual(buttons.map(([name]) => name));
  for (const [name, does] of buttons) {
    fireEvent.click(screen.getByRole("button", { name }));
    expect(keeping[does]).toHaveBeenCalledOnce();
  }
});

test.each<Saving>(["kept", "typing", "keeping"])("nothing is said while all goes well: %s", (saving) => {
  const { container } = show(saving, "a trouble that is over");
  expect(container.textContent).toBe("");
});

// @vitest-environment happy-dom
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { CopyMenu } from "./CopyMenu";

const asTeX = vi.fn();
const asMathML = vi.fn();
const hide = vi.fn();

beforeEach(() => {
  vi.clearAllMocks();
  vi.useFakeTimers();
  HTMLElement.prototype.hidePopover = hide;
  HTMLElement.prototype.showPopover = vi.fn();
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

/** show returns the button of the menu and its ways. */
function show() {
  render(
    <CopyMenu
      label="Copy the formula"
      ways={[
        { words: "TeX", copy: asTeX },
        { words: "MathML", copy: asMathML },
      ]}
    />,
  );
  const [button, tex, math] = screen.getAllByRole("button") as [HTMLElement, HTMLElement, HTMLElement];
  return { button, tex, math };
}

test("a way copies, says so for a moment, and leaves the menu for its button", async () => {
  asMathML.mockResolvedValue(undefined);
  const { button, math } = show();
  await act(async () => fireEvent.click(math));
  expect(asMathML).toHaveBeenCalledTimes(1);
  expect(asTeX).not.toHaveBeenCalled();
  expect(hide).toHaveBeenCalled();
  expect(document.activeElement).toBe(button);
  expect(screen.getByRole("status").textContent).toBe("Copied");
  act(() => vi.advanceTimersByTime(2000));
  expect(screen.getByRole("status").textContent).toBe("");
});

test("what the browser does not allow is said; a later copy is not silenced by the time of an earlier", async () => {
  asTeX.mockRejectedValueOnce(new Error("denied")).mockResolvedValue(undefined);
  const { tex } = show();
  await act(async () => fireEvent.click(tex));
  expect(screen.getByRole("status").textContent).toBe("The browser did not allow copying");
  act(() => vi.advanceTimersByTime(1000));
  await act(async () => fireEvent.click(tex));
  act(() => vi.advanceTimersByTime(1000)); // when the first would have been forgotten
  expect(screen.getByRole("status").textContent).toBe("Copied");
});

test("the arrows go round the ways; the one down opens", () => {
  const { button, tex, math } = show();
  fireEvent.keyDown(button, { key: "ArrowDown" });
  expect(HTMLElement.prototype.showPopover).toHaveBeenCalledTimes(1);
  tex.focus();
  fireEvent.keyDown(tex, { key: "ArrowDown" });
  expect(document.activeElement).toBe(math);
  fireEvent.keyDown(math, { key: "ArrowDown" });
  expect(document.activeElement).toBe(tex);
  fireEvent.keyDown(tex, { key: "ArrowUp" });
  expect(document.activeElement).toBe(math);
});

test("Escape closes the menu, and nothing around it", () => {
  const outside = vi.fn();
  document.addEventListener("keydown", outside);
  const { button, tex } = show();
  tex.focus();
  fireEvent.keyDown(tex, { key: "Escape" });
  document.removeEventListener("keydown", outside);
  expect(hide).toHaveBeenCalledTimes(1);
  expect(document.activeElement).toBe(button);
  expect(outside).not.toHaveBeenCalled();
});

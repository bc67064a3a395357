// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { NoteEditor } from "./NoteEditor";

const onDone = vi.fn();
const onLeave = vi.fn();

beforeEach(() => vi.clearAllMocks());
afterEach(cleanup);

/** write opens the editor on a note and types another text. */
function write(text?: string) {
  const shown = render(<NoteEditor note={{ at: "step/look", text: "as it was" }} onDone={onDone} onLeave={onLeave} />);
  const field = screen.getByRole("textbox");
  expect(document.activeElement).toBe(field);
  if (text !== undefined) fireEvent.change(field, { target: { value: text } });
  return { field, close: shown.unmount };
}

test("what was typed is kept when the field is left, once", () => {
  const { field, close } = write("new");
  fireEvent.blur(field);
  fireEvent.blur(field);
  close();
  expect(onDone.mock.calls).toEqual([["new"]]);
});

test("Ctrl and Enter keep it, and Enter alone begins a line", () => {
  const { field, close } = write("new");
  fireEvent.keyDown(field, { key: "Enter" });
  expect(onDone).not.toHaveBeenCalled();
  fireEvent.keyDown(field, { key: "Enter", ctrlKey: true });
  close();
  expect(onDone.mock.calls).toEqual([["new"]]);
});

test("Escape leaves it as it was, and closes nothing else", () => {
  const outside = vi.fn();
  document.addEventListener("keydown", outside);
  const { field, close } = write("new");
  fireEvent.keyDown(field, { key: "Escape" });
  fireEvent.blur(field);
  close();
  document.removeEventListener("keydown", outside);
  expect(onLeave).toHaveBeenCalledTimes(1);
  expect(onDone).not.toHaveBeenCalled();
  expect(outside).not.toHaveBeenCalled();
});

test("a card that closes around it keeps what was typed", () => {
  write("typed and not left").close();
  expect(onDone.mock.calls).toEqual([["typed and not left"]]);
});

test("one that was only looked at is not written again when its card closes", () => {
  write().close();
  expect(onDone).not.toHaveBeenCalled();
});

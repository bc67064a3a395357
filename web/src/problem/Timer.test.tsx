// @vitest-environment happy-dom
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { leftOf, Timer } from "./Timer";

beforeEach(() => {
  localStorage.clear();
  vi.useFakeTimers();
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

test.each([
  [180_000, "3:00"],
  [179_999, "3:00"],
  [59_000, "0:59"],
  [1, "0:01"],
  [0, "0:00"],
  [-5000, "0:00"],
])("%d ms left are shown as %s", (left, shown) => {
  expect(leftOf(left)).toBe(shown);
});

const pass = (seconds: number) => act(() => vi.advanceTimersByTime(seconds * 1000));
const press = (name: string) => fireEvent.click(screen.getByRole("button", { name }));

test("minutes are counted down, changed on the way, and remembered", () => {
  render(<Timer />);
  press("3 min");
  pass(30);
  expect(screen.getByRole("timer").textContent).toBe("2:30");
  press("A minute more");
  expect(screen.getByRole("timer").textContent).toBe("3:30");
  press("A minute less");
  press("A minute less");
  pass(100);
  expect(screen.getByRole("timer").textContent).toBe("0:00");
  expect(screen.getByRole("status").textContent).toBe("Time is up");
  press("A minute more"); // once more, when it was too short
  expect(screen.getByRole("timer").textContent).toBe("1:00");
  press("Put the timer away");
  expect(screen.getByRole("button", { name: "3 min" })).toBeTruthy();
  pass(5);
  expect(screen.queryByRole("timer")).toBeNull();
});

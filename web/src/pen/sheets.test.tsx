// @vitest-environment happy-dom
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { drawnBefore, useSheets } from "./sheets";
import { type Drawn, undone, withStrokes } from "./strokes";

const stroke: Drawn = { ink: "red", marker: false, outline: [0, 0, 1, 0, 1, 1] };

beforeEach(() => sessionStorage.clear());
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

test("strokes belong to their step, and to their problem", () => {
  const { result, unmount } = renderHook(() => useSheets("7"));
  act(() => result.current.change("data", (sheet) => withStrokes(sheet, [stroke])));
  expect(result.current.sheetOf("data").strokes).toEqual([stroke]);
  expect(result.current.sheetOf("look").strokes).toEqual([]);
  unmount();
  expect(drawnBefore("7").data?.strokes).toEqual([stroke]);
  expect(drawnBefore("8")).toEqual({});
});

test("what was undone does not come back with the page", () => {
  const { result, unmount } = renderHook(() => useSheets("7"));
  act(() => result.current.change("data", (sheet) => withStrokes(sheet, [stroke])));
  act(() => result.current.change("data", undone));
  unmount();
  expect(sessionStorage.length).toBe(0);
});

test("a page that is left remembers what is drawn on it, even where it comes back as it was", () => {
  const { result } = renderHook(() => useSheets("7"));
  act(() => result.current.change("data", (sheet) => withStrokes(sheet, [stroke])));
  dispatchEvent(new Event("pagehide"));
  expect(drawnBefore("7").data?.strokes).toEqual([stroke]);
});

test("a browser without room, or with something else there, keeps nobody from drawing", () => {
  sessionStorage.setItem("grund.drawn.7", "{broken");
  const { result } = renderHook(() => useSheets("7"));
  vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
    throw new Error("full");
  });
  act(() => result.current.change("data", (sheet) => withStrokes(sheet, [stroke])));
  dispatchEvent(new Event("pagehide"));
  expect(result.current.sheetOf("data").strokes).toEqual([stroke]);
});

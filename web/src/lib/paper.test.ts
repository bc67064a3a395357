// @vitest-environment happy-dom
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";

beforeEach(() => localStorage.clear());
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
  vi.resetModules();
});

/** paperIn is what goes onto paper where a language is spoken. */
async function paperIn(language: string) {
  vi.spyOn(navigator, "language", "get").mockReturnValue(language);
  const { usePaper, paperOfProblem } = await import("./paper");
  return renderHook(() => {
    const [paper, setPaper] = usePaper();
    return { paper, setPaper, url: (save?: "odt") => paperOfProblem("7", paper, save) };
  }).result;
}

const asked = (url: string) => Object.fromEntries(new URL(url, "http://localhost").searchParams);

test.each([
  ["en-US", "letter"],
  ["es-MX", "letter"],
  ["en-GB", "a4"],
  ["de", "a4"],
])("in %s sheets are of %s", async (language, size) => {
  expect(asked((await paperIn(language)).current.url())).toEqual({ what: "full", size });
});

test("what was chosen is in the address, and remembered for the next problem", async () => {
  const paper = await paperIn("de");
  act(() =>
    paper.current.setPaper({
      ...paper.current.paper,
      what: "short",
      name: "M & H",
      without: ["look", "report"],
      leftOut: ["table/cases", "figure/curve"],
      allRows: true,
      size: "letter",
    }),
  );
  const { steps, ...rest } = asked(paper.current.url("odt"));
  expect(rest).toEqual({
    what: "short",
    size: "letter",
    name: "M & H",
    save: "1",
    format: "odt",
    without: "table/cases,figure/curve",
    rows: "all",
  });
  expect(steps?.split(",")).toHaveLength(10);
  expect(steps).not.toContain("look");
  expect(asked((await paperIn("de")).current.url()).name).toBe("M & H");
});

test("what an earlier Grund remembered, without the size, is still good", async () => {
  localStorage.setItem(
    "grund.paper",
    JSON.stringify({ what: "report", without: [], name: "", course: "", dated: false }),
  );
  expect(asked((await paperIn("de")).current.url())).toEqual({ what: "report", size: "a4" });
});

test("a report has the same head, and nothing of what goes in of a problem", async () => {
  const { paperOfReport } = await import("./paper");
  const paper = {
    ...(await paperIn("de")).current.paper,
    course: "Statistics I",
    without: ["look"],
    leftOut: ["table/cases"],
  };
  expect(paperOfReport("5", paper, "md")).toMatch(/^\/api\/reports\/5\/paper\?/);
  expect(asked(paperOfReport("5", paper, "md"))).toEqual({
    size: "a4",
    course: "Statistics I",
    save: "1",
    format: "md",
  });
});

test("the date stands there where it is asked for", async () => {
  const paper = await paperIn("de");
  act(() => paper.current.setPaper({ ...paper.current.paper, dated: true }));
  expect(asked(paper.current.url()).date).toMatch(/^\d{1,2} [A-Z][a-z]+ \d{4}$/);
});

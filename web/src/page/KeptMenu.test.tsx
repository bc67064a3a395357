// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { request, requestList } from "../api/client";
import type { ReportListing } from "../api/types";
import type { Kept } from "../kept/useKept";
import { KeptMenu } from "./KeptMenu";

vi.mock("../api/client", async (original) => ({
  ...(await original<object>()),
  request: vi.fn(),
  requestList: vi.fn(),
}));

const setInto = vi.fn();
const listing = (id: string, title: string, of?: string): ReportListing => ({
  id,
  version: 1,
  title,
  parts: 1,
  of,
  updated_at: "2026-11-29T00:00:00Z",
});

beforeEach(() => {
  vi.clearAllMocks();
  HTMLElement.prototype.hidePopover = vi.fn();
  vi.mocked(requestList).mockResolvedValue([
    listing("own", "Two berths", "p"),
    listing("other", "Fares", "q"),
    listing("lab", "Lab report"),
    listing("lab2", "Lab report"),
  ]);
});
afterEach(cleanup);

function show(kept: Partial<Kept>) {
  const all: Kept = { at: new Set(), toggle: vi.fn(), report: "", title: "", into: "", setInto, ...kept };
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <KeptMenu problem="p" kept={all} />
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

const words = () =>
  screen
    .getAllByRole("button", { hidden: true })
    .slice(1)
    .map((button) => button.textContent);

test("it offers the problem’s own report and those of several, two of one title among them", async () => {
  show({});
  await waitFor(() =>
    expect(words()).toEqual([
      "Keep for this problem’s own report",
      "Keep for “Lab report”",
      "Keep for “Lab report”",
      "Begin a report of several problems",
    ]),
  );
  fireEvent.click(screen.getAllByText("Keep for “Lab report”")[1] as Element);
  expect(setInto).toHaveBeenCalledWith("lab2");
});

test("the report of another problem is there where it was chosen", async () => {
  show({ into: "other", report: "other", at: new Set(["number/t"]) });
  await waitFor(() => expect(words()).toContain("Keep for “Fares”"));
  expect(words()[0]).toBe("Open the report");
  expect(words()).not.toContain("Keep for “Two berths”"); // which is the own one
  const [button] = screen.getAllByLabelText("The report: 1 thing kept of this problem");
  expect(button?.textContent).toBe("1");
});

test("a report of several problems that is begun is the one that is kept for", async () => {
  vi.mocked(request).mockResolvedValue({ id: "new" });
  show({});
  await act(async () => fireEvent.click(screen.getByText("Begin a report of several problems")));
  await waitFor(() => expect(setInto).toHaveBeenCalledWith("new"));
});

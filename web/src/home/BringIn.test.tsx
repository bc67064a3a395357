// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Toasts } from "../app/toasts";
import { BringIn } from "./BringIn";

const onClose = vi.fn();
let asked: [string, string][] = [];
let answers: Record<string, [number, unknown][]> = {};

beforeEach(() => {
  vi.clearAllMocks();
  asked = [];
  HTMLDialogElement.prototype.showModal = () => {};
  vi.stubGlobal("fetch", async (path: string, { method }: { method: string }) => {
    asked.push([method, path]);
    const [status, body] = answers[path]?.shift() ?? [200, {}];
    return new Response(status === 204 ? null : JSON.stringify(body), { status });
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const coming = (title: string, readable: boolean, mistakes: unknown[] = []) => ({
  name: `${title}.json`,
  title: readable ? title : "",
  question: "",
  procedure_title: "One mean",
  cases: 3,
  readable,
  mistakes,
});

const wrong = { pointer: "/procedur", says: "there is no field “procedur”", instead: "did you mean “procedure”?" };
const week = new File(["PK"], "week.zip");

const show = (...files: File[]) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Toasts>
        <BringIn files={files} onClose={onClose} />
      </Toasts>
    </QueryClientProvider>,
  );

const box = (title: RegExp) => screen.getByRole("checkbox", { name: title, hidden: true }) as HTMLInputElement;
const press = (name: string) => fireEvent.click(screen.getByRole("button", { name, hidden: true }));

test("only what was ticked lands, and is taken back again", async () => {
  answers = {
    "/api/problems/preview": [[200, [coming("A", true), coming("B", false, [wrong]), coming("C", true)]]],
    "/api/problems/bring?take=2": [[201, [{ id: "c", version: 1, title: "C" }]]],
    "/api/problems/c?version=1": [[204, null]],
  };
  show(week);
  await screen.findByText(/2 of 3 problems can be brought in/);
  expect(screen.getByText(/There is no field “procedur”: did you mean “procedure”\?/)).toBeTruthy();
  expect(box(/B\.json/).disabled).toBe(true);
  fireEvent.click(box(/^A/));
  press("Bring in 1 problem");
  await waitFor(() => expect(onClose).toHaveBeenCalledTimes(1));
  press("Undo");
  await waitFor(() => expect(asked.at(-1)).toEqual(["DELETE", "/api/problems/c?version=1"]));
});

test("with nothing ticked nothing is sent", async () => {
  answers = { "/api/problems/preview": [[200, [coming("A", true)]]] };
  show(week);
  await screen.findByText("1 problem can be brought in.", { exact: false });
  fireEvent.click(box(/^A/));
  expect(
    (screen.getByRole("button", { name: "Bring in 0 problems", hidden: true }) as HTMLButtonElement).disabled,
  ).toBe(true);
});

test("what did not land says so, and is sent again without what had landed before it", async () => {
  answers = {
    "/api/problems/preview": [
      [200, [coming("A", true)]],
      [200, [coming("B", true)]],
    ],
    "/api/problems/bring?take=0": [
      [201, [{ id: "a", version: 1, title: "A" }]],
      [503, { status: 503, detail: "There is no room now." }],
      [201, [{ id: "b", version: 1, title: "B" }]],
    ],
  };
  show(week, new File(["PK"], "more.zip"));
  await screen.findByText(/2 problems can be brought in/);
  press("Bring in 2 problems");
  const alert = await screen.findByText(/Brought in so far: 1 problem\./);
  expect(alert.textContent).toContain("There is no room now.");
  expect(onClose).not.toHaveBeenCalled();
  expect(box(/^A/).disabled).toBe(true);
  press("Bring in 1 problem");
  await waitFor(() => expect(onClose).toHaveBeenCalledTimes(1));
  expect(asked.filter(([, path]) => path.includes("bring"))).toHaveLength(3);
  expect(screen.getByText("Brought in: 2 problems.")).toBeTruthy();
});

test("a file that is given anew while another is looked at is the one that is shown", async () => {
  answers = {
    "/api/problems/preview": [
      [200, [coming("Old", true)]],
      [200, [coming("New", true)]],
    ],
  };
  const page = show(week);
  page.rerender(
    <QueryClientProvider client={new QueryClient()}>
      <Toasts>
        <BringIn files={[new File(["PK"], "other.zip")]} onClose={onClose} />
      </Toasts>
    </QueryClientProvider>,
  );
  await screen.findByText("New");
  expect(screen.queryByText("Old")).toBeNull();
});

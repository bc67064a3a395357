import { describe, expect, test } from "vitest";
import type { Draft, ProblemSet } from "../api/types";
import { changed, current, difference, filled, over, type Settings, settingsOf } from "./settings";

const draft = {
  procedure: "t-two-samples",
  alpha: "0.05",
  tail: "both",
  roles: { response: "rate", group: "berth" },
  options: { variances: "unequal" },
  leave_out: [{ case: 4, reason: "mistyped" }],
} as unknown as Draft;

const first = settingsOf(draft);
const set = (pointer: string, value: unknown): ProblemSet => ({ pointer, value });

/** served returns settings as a server has them that makes the sets, where another procedure takes the roles over and no option. */
function served(settings: Settings, sets: ProblemSet[]): Settings {
  let { tree } = settings;
  for (const each of sets) {
    ({ tree } = changed({ tree }, [each]));
    if (each.pointer === "/procedure") tree = { ...tree, roles: settings.tree.roles, options: {}, tail: "both" };
  }
  return { tree };
}

describe("what is sent", () => {
  test.each<[string, ProblemSet[], ProblemSet[]]>([
    ["nothing", [], []],
    ["alpha as a number", [set("/alpha", 0.01)], [set("/alpha", 0.01)]],
    ["nothing where it is as it was", [set("/alpha", 0.01), set("/alpha", 0.05)], []],
    ["an option alone", [set("/options/mean", 3)], [set("/options/mean", 3)]],
    ["an option that goes", [set("/options/variances", null)], [set("/options/variances", null)]],
    [
      "a part of an option with its whole",
      [set("/options/references/ferry", "Gull")],
      [set("/options/references", { ferry: "Gull" })],
    ],
    [
      "a list as it will be",
      [set("/leave_out/-", { case: 9 })],
      [set("/leave_out", [...draft.leave_out, { case: 9 }])],
    ],
    ["a setting that was not there", [set("/decimals", 2)], [set("/decimals", 2)]],
    [
      "the procedure before all that is set for it",
      [set("/alpha", 0.1), set("/procedure", "rank-sum"), set("/options/median", 3)],
      [set("/procedure", "rank-sum"), set("/alpha", 0.1), set("/options/median", 3)],
    ],
  ])("%s", (_, sets, want) => {
    expect(difference(changed(first, sets), first)).toEqual(want);
  });

  test("of two procedures in a row the last, with what was set for it", () => {
    const now = changed(first, [
      set("/procedure", "rank-sum"),
      set("/options/median", 3),
      set("/procedure", "signed-rank"),
      set("/tail", "left"),
    ]);
    expect(difference(now, first)).toEqual([set("/procedure", "signed-rank"), set("/tail", "left")]);
  });

  test("on top of a procedure that is kept already only what came since", () => {
    const kept = changed(first, [set("/procedure", "rank-sum"), set("/tail", "left")]);
    const now = changed(kept, [set("/options/method", "exact")]);
    expect(difference(now, kept)).toEqual([set("/options/method", "exact")]);
  });
});

describe("there and back over another procedure", () => {
  const other = changed(first, [set("/procedure", "rank-sum")]);
  const answer = { ...draft, procedure: "rank-sum", options: {} } as Draft;

  test("its options are not known until the server tells them", () => {
    expect(current(other, "/options/variances")).toBeNull();
    expect(current(changed(other, [set("/tail", "left")]), "/tail")).toBe("left");
    expect(filled(other, draft)).toBe(other);
    expect(filled(other, answer)).toEqual(settingsOf(answer));
  });

  test("undo sends back what the first one had, whole", () => {
    const kept = filled(other, answer);
    const back = difference(first, kept);
    expect(back[0]).toEqual(set("/procedure", "t-two-samples"));
    expect(served(kept, back)).toEqual(served(first, []));
  });

  test("undo before the answer as well", () => {
    expect(served(served(first, difference(other, first)), difference(first, other)).tree).toMatchObject({
      procedure: "t-two-samples",
      options: draft.options,
      tail: "both",
    });
  });
});

test.each([
  ["0,05", 0.05],
  ["1 %", 0.01],
  ["2,5%", 0.025],
  ["0.001", 0.001],
])("alpha typed as %s", (alpha, want) => {
  const typed = settingsOf({ ...draft, alpha } as Draft);
  expect(current(typed, "/alpha")).toBe(want);
  expect(difference(typed, changed(typed, [set("/alpha", 0.2)]))).toEqual([set("/alpha", want)]);
});

test("a single name in a role is a list of one", () => {
  const lists = changed(first, [set("/roles", { response: ["rate"], group: ["berth"] })]);
  expect(difference(lists, first)).toEqual([]);
  expect(difference(changed(first, [set("/roles", { response: ["rate", "wind"], group: "berth" })]), first)).toEqual([
    set("/roles/response", ["rate", "wind"]),
  ]);
});

describe("mine over theirs", () => {
  test("keeps what only they changed, of other settings and of other options", () => {
    const mine = changed(first, [set("/alpha", 0.01), set("/options/mean", 3)]);
    const theirs = changed(first, [set("/decimals", 2), set("/options/variances", "equal"), set("/alpha", 0.1)]);
    expect(over(mine, first, theirs).tree).toMatchObject({
      alpha: 0.01,
      decimals: 2,
      options: { variances: "equal", mean: 3 },
    });
  });

  test("does nothing where nothing was changed here", () => {
    const theirs = changed(first, [set("/alpha", 0.1)]);
    expect(difference(over(first, first, theirs), theirs)).toEqual([]);
  });
});

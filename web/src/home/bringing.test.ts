import { afterEach, expect, test, vi } from "vitest";
import { bring, type Found, filesOf, holdsMany, isProblems, look, whereIn } from "./bringing";

afterEach(() => vi.unstubAllGlobals());

const file = (text: string, name = "a.json") => new File([text], name);

test.each([
  ["one problem", [file('{"grund": 1}')], false],
  ["a list", [file('\ufeff\n [{"grund": 1}]')], true],
  ["a ZIP", [file("PK\u0003\u0004", "a.zip")], true],
  ["two files", [file("{}"), file("{}")], true],
  ["none", [], false],
])("%s", async (_, files, many) => {
  expect(await holdsMany(files)).toBe(many);
});

/** answering answers requests in their turn, and notes where they went. */
function answering(...answers: [number, unknown][]): string[] {
  const asked: string[] = [];
  vi.stubGlobal("fetch", async (path: string) => {
    asked.push(path);
    const [status, body] = answers[asked.length - 1] ?? [500, {}];
    return new Response(JSON.stringify(body), { status });
  });
  return asked;
}

test("a file that cannot be read keeps no other from being looked at", async () => {
  const [a, b] = [file("[]"), file("{}", "b.json")];
  answering(
    [422, { status: 422, detail: "there is no problem file in it" }],
    [200, [{ name: "", title: "B", readable: true }]],
  );
  const done: number[] = [];
  const found = await look([a, b], (n) => done.push(n));
  expect(done).toEqual([0, 1]);
  expect(found.map((each) => [each.file, each.at, each.readable, each.title])).toEqual([
    [a, 0, false, ""],
    [b, 0, true, "B"],
  ]);
  expect(found[0]?.mistakes[0]?.says).toBe("there is no problem file in it");
});

test("each file is sent once with the places that were chosen in it; what has landed is known when a later one fails", async () => {
  const [a, b] = [file("[]"), file("{}", "b.json")];
  const found = [
    { file: a, at: 0 },
    { file: b, at: 0 },
    { file: a, at: 2 },
  ] as Found[];
  const asked = answering([201, [{ id: "1" }, { id: "2" }]], [503, { status: 503, detail: "no room" }]);
  const landed: unknown[] = [];
  await expect(bring(found, (file, brought) => landed.push([file, ...brought]))).rejects.toThrow("no room");
  expect(asked).toEqual(["/api/problems/bring?take=0,2", "/api/problems/bring?take=0"]);
  expect(landed).toEqual([[a, { id: "1" }, { id: "2" }]]);
});

test("folders that are dropped are gone through in all their parts", async () => {
  const entry = (name: string) => ({ name, isFile: true, file: (done: (f: File) => void) => done(file("{}", name)) });
  const directory = (name: string, ...parts: unknown[][]) => ({
    name,
    isFile: false,
    createReader: () => {
      const rest = [...parts, []];
      return { readEntries: (done: (part: unknown) => void) => done(rest.shift()) };
    },
  });
  const tree = directory(
    "week",
    [entry("a.json"), entry(".b.json")],
    [directory("more", [entry("c.ZIP"), entry("d.txt")])],
  );
  const dropped = { items: [{ webkitGetAsEntry: () => tree }], files: [] } as unknown as DataTransfer;
  expect((await filesOf(dropped)).map((each) => each.name)).toEqual(["a.json", "c.ZIP"]);
  const plain = { items: [{ webkitGetAsEntry: () => entry("x.txt") }], files: [file("x", "x.txt")] };
  expect(await filesOf(plain as unknown as DataTransfer)).toHaveLength(1); // what is wrong with it is said
});

test("where a problem was found", () => {
  expect(whereIn({ file: file("", "w.zip"), name: "a/b.json" } as Found)).toBe("w.zip, a/b.json");
  expect(whereIn({ file: file("", "w.json"), name: "" } as Found)).toBe("w.json");
  expect(isProblems("a.JSON")).toBe(true);
  expect(isProblems("a.json.txt")).toBe(false);
});

import { expect, test } from "vitest";
import { beginWrite, writesDone } from "./leaving";

test("what follows waits for every write that was begun, also for one that fails", async () => {
  const order: string[] = [];
  const write = (name: string, after: number, fails = false) =>
    new Promise((done, fail) => {
      setTimeout(() => {
        order.push(name);
        fails ? fail(new Error(name)) : done(name);
      }, after);
    });
  beginWrite("a", write("first", 20, true));
  beginWrite("a", write("second", 5));
  beginWrite("b", write("other", 60));
  await writesDone("a");
  order.push("after");
  expect(order).toEqual(["second", "first", "after"]);
  await writesDone("b");
  expect(order.at(-1)).toBe("other");
  await writesDone("nothing");
});

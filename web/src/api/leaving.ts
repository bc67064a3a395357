/** Writes that were begun by a page which may have been left meanwhile, by the problem that they change. */
const begun = new Map<string, Promise<unknown>>();

/** beginWrite remembers a write until it is done, whatever comes of it. */
export function beginWrite(problem: string, write: Promise<unknown>) {
  const all = Promise.allSettled([begun.get(problem), write]);
  begun.set(problem, all);
  all.then(() => {
    if (begun.get(problem) === all) begun.delete(problem);
  });
}

/** writesDone waits until nothing that was begun is still under way. */
export async function writesDone(problem: string): Promise<void> {
  while (begun.has(problem)) await begun.get(problem);
}

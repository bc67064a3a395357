import { request } from "../api/client";
import type { Brought, Coming } from "../api/types";

/** How many files are looked through: a folder may hold anything. */
export const mostFiles = 500;

/** Found is a problem of a file that was given, which may be brought in. */
export interface Found extends Coming {
  /** The file, and the problem's place in it. */
  file: File;
  at: number;
}

/** keyOf tells the problems of all files apart. */
export const keyOf = (found: Found, files: readonly File[]): string => `${files.indexOf(found.file)}/${found.at}`;

/** whereIn is where a problem was found, for people. */
export const whereIn = (found: Found): string =>
  [found.file.webkitRelativePath || found.file.name, found.name].filter((part) => part !== "").join(", ");

/** holdsMany tells whether files may hold more than one problem, and are looked at before anything lands. */
export async function holdsMany(files: readonly File[]): Promise<boolean> {
  const [file] = files;
  if (files.length !== 1 || !file) return files.length > 1;
  const start = await file.slice(0, 1000).text();
  return start.startsWith("PK") || start.replace("\ufeff", "").trimStart().startsWith("[");
}

/** look asks what the files hold, one after the other; a file that cannot be read is found as what is wrong with it. */
export async function look(files: readonly File[], onFile: (done: number) => void): Promise<Found[]> {
  const found: Found[] = [];
  for (const [i, file] of files.entries()) {
    onFile(i);
    try {
      const coming = await request<Coming[]>("POST", "/api/problems/preview", file);
      found.push(...coming.map((each, at) => ({ ...each, file, at })));
    } catch (error) {
      found.push({ ...unreadable((error as Error).message), file, at: 0 });
    }
  }
  return found;
}

const unreadable = (says: string): Coming => ({
  name: "",
  title: "",
  question: "",
  procedure_title: "",
  cases: 0,
  readable: false,
  mistakes: [{ pointer: "", says, instead: "" }],
});

/** bring keeps the problems that were chosen, and tells of each file that has landed. */
export async function bring(chosen: readonly Found[], onFile: (file: File, brought: Brought[]) => void): Promise<void> {
  for (const file of new Set(chosen.map((each) => each.file))) {
    const take = chosen.filter((each) => each.file === file).map((each) => each.at);
    onFile(file, await request<Brought[]>("POST", `/api/problems/bring?take=${take.join(",")}`, file));
  }
}

/** filesOf returns what was dropped, with what the folders among it hold; hidden files are left where they are. */
export async function filesOf(dropped: DataTransfer): Promise<File[]> {
  const entries = [...dropped.items].map((item) => item.webkitGetAsEntry?.() ?? null);
  if (entries.every((entry) => entry === null || entry.isFile)) return [...dropped.files];
  const files: File[] = [];
  for (const entry of entries) if (entry) await walk(entry, files);
  return files;
}

async function walk(entry: FileSystemEntry, into: File[]): Promise<void> {
  if (entry.name.startsWith(".") || into.length >= mostFiles) return;
  if (entry.isFile) {
    const read = (entry as FileSystemFileEntry).file.bind(entry);
    if (isProblems(entry.name)) into.push(await new Promise<File>(read));
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  // It gives its entries in parts, and an empty one at the end.
  for (;;) {
    const part = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail));
    if (part.length === 0) return;
    for (const each of part) await walk(each, into);
  }
}

/** isProblems tells by its name whether a file of a folder may hold problems. */
export const isProblems = (name: string): boolean => /\.(json|zip)$/i.test(name);

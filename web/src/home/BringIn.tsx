import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { request } from "../api/client";
import type { Brought } from "../api/types";
import { Dialog } from "../app/Dialog";
import { useToast } from "../app/toasts";
import { Markdown } from "../lib/Markdown";
import { counted, mistakeSentence } from "../lib/words";
import { bring, type Found, keyOf, look, whereIn } from "./bringing";

/** BringIn shows what files hold, and what is wrong where, before anything of it lands. */
export function BringIn({ files, onClose }: { files: readonly File[]; onClose: () => void }) {
  const client = useQueryClient();
  const toast = useToast();
  const [done, setDone] = useState(0);
  const [found, setFound] = useState<Found[] | null>(null);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set()); // those that are not to come
  const landed = useRef<Brought[]>([]);
  const [landedFiles, setLandedFiles] = useState<ReadonlySet<File>>(new Set()); // before one failed
  useEffect(() => {
    let stale = false;
    look(files, setDone).then((all) => {
      if (!stale) setFound(all);
    });
    return () => {
      stale = true;
    };
  }, [files]);

  const takeBack = useMutation({
    mutationFn: async () => {
      for (const each of landed.current) await request("DELETE", `/api/problems/${each.id}?version=${each.version}`);
    },
    onSettled: () => client.invalidateQueries({ queryKey: ["problems"] }),
    onError: (error) => toast({ says: error.message, bad: true }),
  });
  const isChosen = (each: Found) => each.readable && !left.has(keyOf(each, files)) && !landedFiles.has(each.file);
  const chosen = (found ?? []).filter(isChosen);
  const land = useMutation({
    // What is chosen comes with the click: what is seen may be newer than what this was made with.
    mutationFn: (chosen: Found[]) =>
      bring(chosen, (file, brought) => {
        landed.current = [...landed.current, ...brought];
        setLandedFiles((before) => new Set([...before, file]));
      }),
    onSettled: () => client.invalidateQueries({ queryKey: ["problems"] }),
    onSuccess: () => {
      toast({
        says: `Brought in: ${counted(landed.current.length, "problem")}.`,
        action: { label: "Undo", act: () => takeBack.mutate() },
      });
      onClose();
    },
  });
  const readable = (found ?? []).filter((each) => each.readable).length;
  return (
    <Dialog title="Bring in problems" onClose={onClose} wide>
      {found === null ? (
        <p role="status">
          Looking at {files.length === 1 ? "the file" : `file ${done + 1} of ${files.length}`} …
          <progress
            className="progress mt-2 block w-full"
            value={done}
            max={files.length}
            aria-label="Files looked at"
          />
        </p>
      ) : (
        <>
          <p className="text-muted">
            {readable === found.length
              ? `${counted(readable, "problem")} can be brought in.`
              : `${readable} of ${counted(found.length, "problem")} can be brought in.`}{" "}
            Nothing is kept before you say so.
          </p>
          <ul className="mt-3">
            {found.map((each) => (
              <Row
                key={keyOf(each, files)}
                found={each}
                chosen={isChosen(each)}
                landed={landedFiles.has(each.file)}
                onChoose={(on) => {
                  const next = new Set(left);
                  if (on) next.delete(keyOf(each, files));
                  else next.add(keyOf(each, files));
                  setLeft(next);
                }}
              />
            ))}
          </ul>
          {land.isError && (
            <p role="alert" className="mt-4 border-region border-l-2 pl-3 text-(--region-text)">
              {landed.current.length > 0
                ? `Brought in so far: ${counted(landed.current.length, "problem")}. `
                : "Nothing was brought in. "}
              {land.error.message}
            </p>
          )}
          <div className="sticky bottom-0 mt-3 flex flex-wrap justify-end gap-3 border-base-300 border-t bg-base-100 pt-3 pb-1">
            <button type="button" className="btn btn-ghost" onClick={onClose}>
              {landed.current.length > 0 ? "Close" : "Leave them"}
            </button>
            <button
              type="button"
              className="btn btn-primary"
              disabled={chosen.length === 0 || land.isPending}
              onClick={() => land.mutate(chosen)}
            >
              {land.isPending ? "Bringing in …" : `Bring in ${counted(chosen.length, "problem")}`}
            </button>
          </div>
        </>
      )}
    </Dialog>
  );
}

interface RowProps {
  found: Found;
  chosen: boolean;
  landed: boolean;
  onChoose: (on: boolean) => void;
}

function Row({ found, chosen, landed, onChoose }: RowProps) {
  const title = found.title || (found.readable ? "Untitled problem" : whereIn(found));
  return (
    <li className="border-base-300 border-b py-2.5 last:border-b-0">
      <label className={`flex items-start gap-3 ${found.readable ? "cursor-pointer" : ""}`}>
        <input
          type="checkbox"
          className="checkbox checkbox-sm mt-1"
          checked={chosen}
          disabled={!found.readable || landed}
          onChange={(event) => onChoose(event.target.checked)}
        />
        <span className="min-w-0 flex-1">
          <span className="font-semibold font-serif text-[1.1rem]">{title}</span>
          {found.question && (
            <span className="line-clamp-1 text-muted">
              <Markdown text={found.question} inline />
            </span>
          )}
          <span className="block text-[0.9rem] text-muted">
            {[
              found.procedure_title,
              found.cases > 0 ? counted(found.cases, "case") : "",
              found.readable ? whereIn(found) : "",
            ]
              .filter((part) => part !== "")
              .join(" · ")}
          </span>
        </span>
      </label>
      {found.mistakes.length > 0 && (
        <ul className="mt-1 ml-8 border-region border-l-2 pl-3 text-[0.95rem]">
          {found.mistakes.slice(0, 3).map((mistake) => (
            <li key={`${mistake.pointer} ${mistake.says}`}>
              {mistake.pointer && <code className="mr-1.5 text-(--region-text)">{mistake.pointer}</code>}
              {mistakeSentence(mistake)}
            </li>
          ))}
          {found.mistakes.length > 3 && <li className="text-muted">and {found.mistakes.length - 3} more</li>}
          {found.readable && <li className="text-muted">It can be brought in and mended here.</li>}
        </ul>
      )}
    </li>
  );
}

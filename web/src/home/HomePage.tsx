import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Copy, Download, FolderOpen, PenLine, Plus, RotateCcw, Trash2 } from "lucide-react";
import { useId, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { request } from "../api/client";
import { problemsQuery } from "../api/queries";
import type { Listing, Problem } from "../api/types";
import { Finder } from "../app/Finder";
import { Message } from "../app/Message";
import { SharedBy } from "../app/Share";
import { Shell } from "../app/Shell";
import { useToast } from "../app/toasts";
import { useDeletion } from "../app/useDeletion";
import { decimalsForAll } from "../lib/decimals";
import { found, groupedBy, lastUsedFirst } from "../lib/finding";
import { useShortcuts } from "../lib/keys";
import { Markdown } from "../lib/Markdown";
import { useRemembered } from "../lib/remembered";
import { BringIn } from "./BringIn";
import { filesOf, holdsMany, isProblems, mostFiles } from "./bringing";
import { ThreadPicture } from "./ThreadPicture";

/** HomePage has the demo problems and the person's own, and the ways to begin another. */
export function HomePage() {
  const { data: problems, error, refetch } = useQuery(problemsQuery);
  const { create, open, take, many, setMany, picker, folder } = useBeginnings();
  const [dropping, setDropping] = useState(false);
  useShortcuts([
    { key: "n", says: "New problem", act: () => create.mutate() },
    { key: "o", says: "Open problem files", act: () => picker.current?.click() },
  ]);
  if (error && !problems) {
    return (
      <Shell title="">
        <Message title="The problems cannot be shown." says={error.message} retry={() => refetch()} />
      </Shell>
    );
  }
  return (
    <Shell title="">
      {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping a file is a shortcut for the button */}
      <div
        className={`mx-auto grid w-full max-w-6xl flex-1 content-start gap-x-14 gap-y-8 px-8 py-10 max-sm:px-4 max-sm:py-6 lg:grid-cols-[1fr_23rem] ${dropping ? "bg-base-200" : ""}`}
        onDragOver={(event) => {
          event.preventDefault();
          setDropping(true);
        }}
        onDragLeave={() => setDropping(false)}
        onDrop={(event) => {
          event.preventDefault();
          setDropping(false);
          filesOf(event.dataTransfer).then(take);
        }}
      >
        <section>
          <h1 className="max-w-2xl font-semibold font-serif text-[2.4rem] leading-[1.12] max-sm:text-[1.9rem]">
            From the question to the sentence that answers it
          </h1>
          <p className="mt-3 max-w-xl text-[1.1rem] text-muted">
            Work a statistics problem step by step, and see where every number comes from. Click any number and it
            opens.
          </p>
          <div className="mt-6 flex flex-wrap gap-3">
            <button
              type="button"
              className="btn btn-primary"
              disabled={create.isPending}
              onClick={() => create.mutate()}
            >
              <Plus size="1.2em" aria-hidden="true" />
              New problem
            </button>
            <button type="button" className="btn btn-outline border-base-300" onClick={() => picker.current?.click()}>
              <FolderOpen size="1.2em" aria-hidden="true" />
              Open problem files
            </button>
            <input
              ref={picker}
              type="file"
              accept=".json,.zip,application/json,application/zip"
              multiple
              className="hidden"
              aria-label="Problem file"
              onChange={(event) => {
                take([...(event.target.files ?? [])]);
                event.target.value = "";
              }}
            />
            <button type="button" className="act self-center max-sm:hidden" onClick={() => folder.current?.click()}>
              or a whole folder
            </button>
            <input
              ref={(input) => {
                input?.setAttribute("webkitdirectory", "");
                folder.current = input;
              }}
              type="file"
              className="hidden"
              aria-label="Folder of problem files"
              onChange={(event) => {
                take([...(event.target.files ?? [])].filter((file) => isProblems(file.name)).slice(0, mostFiles));
                event.target.value = "";
              }}
            />
          </div>
          {many.length > 0 && <BringIn files={many} onClose={() => setMany([])} />}
          {open.isError && (
            <p role="alert" className="mt-4 border-region border-l-2 pl-3 text-(--region-text)">
              The file was not opened. {open.error.message}
            </p>
          )}
          {problems === undefined ? (
            <p className="mt-10 text-muted" role="status">
              Fetching the problems …
            </p>
          ) : (
            <Found problems={problems} />
          )}
        </section>
        <aside className="max-lg:hidden" aria-hidden="true">
          <ThreadPicture />
        </aside>
      </div>
    </Shell>
  );
}

/** useBeginnings returns the ways to begin a problem. */
function useBeginnings() {
  const navigate = useNavigate();
  const client = useQueryClient();
  const toast = useToast();
  const picker = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const [many, setMany] = useState<readonly File[]>([]);
  const keep = (problem: Problem) => {
    client.setQueryData(["problem", problem.id], problem);
    client.invalidateQueries({ queryKey: ["problems"] });
  };
  const create = useMutation({
    mutationFn: () => request<Problem>("POST", "/api/problems", { decimals: decimalsForAll() }),
    onSuccess: (problem) => {
      keep(problem);
      navigate(`/problems/${problem.id}/edit`);
    },
  });
  const open = useMutation({
    mutationFn: async (file: File) => request<Problem>("POST", "/api/problems/import", await file.text()),
    onSuccess: (problem) => {
      keep(problem);
      navigate(`/problems/${problem.id}`);
    },
  });
  const take = async (files: readonly File[]) => {
    const [file] = files;
    if (!file) toast({ says: "There is no problem file in it: these end in .json, or are packed as .zip.", bad: true });
    else if (await holdsMany(files)) setMany(files);
    else open.mutate(file);
  };
  return { create, open, take, many, setMany, picker, folder };
}

/** From so many problems on they can be looked through. */
const many = 7;

/** Found has the problems, those that were used last first, or by what is asked; what is looked for narrows them. */
function Found({ problems }: { problems: Listing[] }) {
  const id = useId();
  const [looked, setLooked] = useState("");
  const [order, setOrder] = useRemembered<"used" | "asked">("home-order", "used");
  const seen = found(
    lastUsedFirst(problems),
    looked,
    (each) => `${each.title} ${each.question} ${each.procedure_title}`,
  );
  const own = seen.filter((problem) => !problem.demo);
  const demo = seen.filter((problem) => problem.demo);
  const none = problems.every((problem) => problem.demo);
  return (
    <>
      {problems.length >= many && (
        <div className="mt-9 flex flex-wrap items-center gap-x-4 gap-y-2">
          <Finder what="the problems" looked={looked} onLook={setLooked} />
          <span className="flex items-center gap-2">
            <label className="text-muted" htmlFor={id}>
              Order
            </label>
            <select
              id={id}
              className="select select-sm w-auto bg-sheet text-ink"
              value={order}
              onChange={(event) => setOrder(event.target.value as typeof order)}
            >
              <option value="used">used last first</option>
              <option value="asked">by what is asked</option>
            </select>
          </span>
        </div>
      )}
      {looked !== "" && seen.length === 0 && (
        <p className="mt-6 text-muted" role="status">
          No problem has “{looked}” in its title, its question or what is asked.
        </p>
      )}
      {order === "asked" ? (
        groupedBy(
          [...seen].sort((a, b) => a.procedure_title.localeCompare(b.procedure_title)),
          (each) => each.procedure_title,
        ).map(({ name, things }) => <Problems key={name} title={name} problems={things} />)
      ) : (
        <>
          {own.length > 0 && <Problems title="Yours" problems={own} />}
          {demo.length > 0 && <Problems title="To look around" problems={demo} />}
        </>
      )}
      {none && looked === "" && (
        <p className="mt-4 text-muted">
          None is your own yet. Begin with <strong>New problem</strong>, or drop problem files, or a folder of them, on
          this page.
        </p>
      )}
    </>
  );
}

function Problems({ title, problems }: { title: string; problems: Listing[] }) {
  return (
    <section className="mt-10">
      <h2 className="border-base-300 border-b pb-1.5 font-semibold text-muted">{title}</h2>
      <ul>
        {problems.map((problem) => (
          <Row key={problem.id} problem={problem} />
        ))}
      </ul>
    </section>
  );
}

const day = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });

function Row({ problem }: { problem: Listing }) {
  const client = useQueryClient();
  const toast = useToast();
  const refresh = () => client.invalidateQueries({ queryKey: ["problems"] });
  const title = problem.title || "Untitled problem";
  const fail = (error: Error) => {
    refresh(); // it may have been changed elsewhere
    toast({ says: error.message, bad: true });
  };
  const remove = useDeletion({
    at: `/api/problems/${problem.id}`,
    version: () => problem.version,
    says: `“${title}” is deleted.`,
    refresh,
  });
  const reset = useMutation({
    mutationFn: () => request<Problem>("POST", `/api/problems/${problem.id}/reset`, { version: problem.version }),
    onSuccess: (fresh) => {
      client.setQueryData(["problem", problem.id], fresh);
      refresh();
      toast({ says: `“${title}” is as it was at first.` });
    },
    onError: fail,
  });
  const duplicate = useMutation({
    mutationFn: () => request("POST", `/api/problems/${problem.id}/duplicate`),
    onSuccess: refresh,
    onError: fail,
  });
  return (
    <li className="flex items-start gap-3 border-base-300 border-b py-3">
      <div className="min-w-0 flex-1">
        <Link to={`/problems/${problem.id}`} className="font-semibold font-serif text-[1.2rem] hover:text-primary">
          {title}
        </Link>
        <p className="line-clamp-2 text-muted">
          <Markdown text={problem.question} inline />
        </p>
        <p className="mt-0.5 text-[0.9rem] text-muted">
          {problem.procedure_title} · {day.format(new Date(problem.updated_at))}
          {problem.shared && <SharedBy at={`/api/problems/${problem.id}`} what="problem" />}
        </p>
      </div>
      <div className="flex">
        <Link
          to={`/problems/${problem.id}/edit`}
          className="btn btn-ghost btn-sm btn-square"
          aria-label={`Edit “${title}”`}
          title="Edit"
        >
          <PenLine size="1.1em" aria-hidden="true" />
        </Link>
        {problem.demo && (
          <button
            type="button"
            className="btn btn-ghost btn-sm btn-square"
            aria-label={`Set “${title}” back`}
            title="Set back as it was at first"
            onClick={() => reset.mutate()}
          >
            <RotateCcw size="1.1em" aria-hidden="true" />
          </button>
        )}
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={`Duplicate “${title}”`}
          title="Duplicate"
          onClick={() => duplicate.mutate()}
        >
          <Copy size="1.1em" aria-hidden="true" />
        </button>
        <a
          href={`/api/problems/${problem.id}/file`}
          download
          className="btn btn-ghost btn-sm btn-square max-sm:hidden"
          aria-label={`Save “${title}” as a problem file`}
          title="Save as a problem file"
        >
          <Download size="1.1em" aria-hidden="true" />
        </a>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={`Delete “${title}”`}
          title="Delete"
          onClick={remove}
        >
          <Trash2 size="1.1em" aria-hidden="true" />
        </button>
      </div>
    </li>
  );
}

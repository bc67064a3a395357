import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { request } from "../api/client";
import { proceduresQuery } from "../api/queries";
import type { Form, Look, Picture, Problem, Share, Suggestion, Table } from "../api/types";
import { TableRows } from "../blocks/TableView";
import { BoxParts } from "../figures/BoxParts";
import { FigureView } from "../figures/FigureView";
import { decimalsForAll } from "../lib/decimals";
import { readNumber } from "../lib/number";
import { upperFirst } from "../lib/words";
import { ChosenProvider } from "../solution/chosen";
import { SolutionProvider, tablesOnly } from "../solution/solution";
import { pathOfSet, useSheet } from "./context";
import { KeepPicture } from "./KeepPicture";

const forms: Partial<Record<Form, string>> = {
  histogram: "Histogram",
  boxes: "Boxes",
  intervals: "Means",
  bars: "Bars",
  scatter: "Scatter",
};

/** Choices are the variables that can be looked at, by the names that the server knows them by. */
export interface LookChoices {
  names: { value: string; label: string }[];
  chosen: string[];
}

interface Props {
  choices: LookChoices;
  /** The problem that the person comes from, whose pictures these may become. */
  problem: string | null;
  onChoose: (names: string[]) => void;
  onCases: (cases: number[]) => void;
}

/** LookPanel describes one or two variables: a picture, the numbers, and what could be asked of them. */
export function LookPanel({ choices, problem, onChoose, onCases }: Props) {
  const { id, version, shared } = useSheet();
  const fieldID = useId();
  const [options, setOptions] = useState<Partial<Picture>>({});
  const [reading, setReading] = useState(false);
  const { chosen } = choices;
  const ask = { variables: chosen, ...options };
  const { data: look, error } = useQuery({
    queryKey: ["look", id, version, ask],
    queryFn: () => request<Look>("POST", `${pathOfSet({ id, shared })}/look`, ask),
    enabled: chosen.length > 0,
    placeholderData: keepPreviousData,
  });
  const choose = (names: string[]) => {
    setOptions({});
    onChoose(names);
  };
  const set = (fields: Partial<Picture>) => setOptions((all) => ({ ...all, ...fields }));
  const select = (at: number) => (
    <select
      id={`${fieldID}-${at}`}
      aria-label={at === 0 ? "Look at" : "together with"}
      className="select select-sm w-full bg-sheet"
      value={chosen[at] ?? ""}
      onChange={(event) => {
        const names = [...chosen];
        names[at] = event.target.value;
        choose(names.filter((name, i) => name && names.indexOf(name) === i));
      }}
    >
      <option value="">{at === 0 ? "choose a variable" : "nothing else"}</option>
      {choices.names.map((name) => (
        <option key={name.value} value={name.value}>
          {name.label}
        </option>
      ))}
    </select>
  );
  const form = look?.figure?.form;
  return (
    <section aria-label="Look" className="grid grid-cols-1 content-start gap-3">
      <div className="grid grid-cols-[auto_1fr] items-center gap-x-2 gap-y-1.5">
        <label htmlFor={`${fieldID}-0`} className="text-muted">
          Look at
        </label>
        {select(0)}
        {chosen.length > 0 && (
          <>
            <label htmlFor={`${fieldID}-1`} className="text-muted">
              with
            </label>
            {select(1)}
          </>
        )}
      </div>
      {chosen.length === 0 && (
        <p className="text-muted">
          Click the name of a column to see its picture and its numbers; with Shift, a second one beside it.
        </p>
      )}
      {error && chosen.length > 0 && (
        <p role="alert" className="border-region border-l-2 pl-3 text-(--region-text)">
          {upperFirst(error.message)}.
        </p>
      )}
      {look && chosen.length > 0 && !error && (
        <Shown tables={look.tables} onCases={onCases}>
          <div>
            <h2 className="font-semibold font-serif text-[1.25rem] leading-tight">{look.title}</h2>
            <p className="text-muted">{look.says}</p>
            {look.first.length > 0 && (
              <dl className="mt-1.5 flex gap-x-6" data-testid="first">
                {look.first.map((number) => (
                  <div key={number.label}>
                    <dd className="text-[1.35rem] leading-tight">{number.shown}</dd>
                    <dt className="text-[0.9rem] text-muted">{number.label}</dt>
                  </div>
                ))}
              </dl>
            )}
          </div>
          {look.forms.length > 1 && (
            <div className="flex w-fit rounded-selector bg-base-200 p-0.5">
              {look.forms.map((each) => (
                <button
                  key={each}
                  type="button"
                  aria-pressed={each === form}
                  className={`cursor-pointer rounded-[0.5rem] px-2.5 py-0.5 ${each === form ? "bg-raised font-semibold shadow-sm" : "text-muted hover:text-ink"}`}
                  onClick={() => set({ form: each })}
                >
                  {forms[each]}
                </button>
              ))}
            </div>
          )}
          {look.figure && <FigureView key={look.figure.form} figure={look.figure} width={372} />}
          {form === "histogram" && look.classes && (
            <ClassFields
              key={`${look.classes.start}/${look.classes.width}`}
              look={look}
              normal={options.normal ?? false}
              onSet={set}
            />
          )}
          {form === "bars" && <ShareFields look={look} two={chosen.length > 1} options={options} onSet={set} />}
          {look.figure && !shared && (
            <KeepPicture picture={{ ...ask, form: look.figure.form }} title={look.title} problem={problem} />
          )}
          <div>
            <button type="button" className="act" aria-expanded={reading} onClick={() => setReading(!reading)}>
              How to read this
            </button>
            {reading && form === "boxes" && <BoxParts />}
            {reading && (
              <ul className="mt-1 list-disc pl-5">
                {look.reading.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            )}
          </div>
          {!shared && <Work chosen={chosen} />}
          {look.tables.map((table) => (
            <TableRows key={table.id} table={table} whole />
          ))}
          {look.notes.map((note) => (
            <p key={note} className="text-[0.9rem] text-muted">
              {note}
            </p>
          ))}
        </Shown>
      )}
    </section>
  );
}

const noCase: ReadonlySet<number> = new Set();

interface ShownProps {
  tables: Table[];
  onCases: (cases: number[]) => void;
  children: React.ReactNode;
}

/** Shown gives tables and figures that belong to no solution; a case in them is gone to. */
function Shown({ tables, onCases, children }: ShownProps) {
  const view = useMemo(() => tablesOnly(tables), [tables]);
  const chosen = useMemo(() => ({ chosen: noCase, choose: onCases }), [onCases]);
  return (
    <SolutionProvider value={view}>
      <ChosenProvider value={chosen}>{children}</ChosenProvider>
    </SolutionProvider>
  );
}

interface ClassProps {
  look: Look;
  normal: boolean;
  onSet: (fields: Partial<Picture>) => void;
}

/** ClassFields set the classes of a histogram. */
function ClassFields({ look, normal, onSet }: ClassProps) {
  const id = useId();
  const [width, setWidth] = useState(String(look.classes?.width ?? ""));
  const [start, setStart] = useState(String(look.classes?.start ?? ""));
  const number = (text: string) => {
    const x = readNumber(text);
    return Number.isFinite(x) ? x : undefined;
  };
  const take = () => onSet({ width: number(width), start: number(start) });
  const field = (label: string, value: string, onChange: (text: string) => void) => (
    <label className="flex items-center gap-1.5" htmlFor={`${id}-${label}`}>
      <span className="text-muted">{label}</span>
      <input
        id={`${id}-${label}`}
        className="input input-sm w-16 bg-sheet"
        inputMode="decimal"
        value={value}
        onChange={(event) => onChange(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => event.key === "Enter" && take()}
      />
    </label>
  );
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
      {field("width", width, setWidth)}
      {field("start", start, setStart)}
      <label className="flex cursor-pointer items-center gap-1.5">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={normal}
          onChange={(event) => onSet({ normal: event.target.checked })}
        />
        normal curve
      </label>
    </div>
  );
}

interface ShareProps {
  look: Look;
  two: boolean;
  options: Partial<Picture>;
  onSet: (fields: Partial<Picture>) => void;
}

/** ShareFields choose what bars and the table show: counts, or percentages of a margin. */
function ShareFields({ look, two, options, onSet }: ShareProps) {
  const shares: { value: Share; label: string }[] = two
    ? [
        { value: "", label: "counts" },
        { value: "row", label: "% of each row" },
        { value: "column", label: `% of each ${look.figure?.series?.length ? "part" : "column"}` },
        { value: "total", label: "% of all" },
      ]
    : [
        { value: "", label: "counts" },
        { value: "total", label: "% of all" },
      ];
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <select
        aria-label="What the bars show"
        className="select select-sm w-40 bg-sheet"
        value={options.share ?? ""}
        onChange={(event) => onSet({ share: event.target.value as Share })}
      >
        {shares.map((share) => (
          <option key={share.value} value={share.value}>
            {share.label}
          </option>
        ))}
      </select>
      {two && (
        <label className="flex cursor-pointer items-center gap-1.5">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={options.stack ?? false}
            onChange={(event) => onSet({ stack: event.target.checked })}
          />
          on each other
        </label>
      )}
    </div>
  );
}

/** Work offers the procedures that fit the chosen variables, and finds others by the names that textbooks use. */
function Work({ chosen }: { chosen: string[] }) {
  const { id, version, flush } = useSheet();
  const navigate = useNavigate();
  const client = useQueryClient();
  const [search, setSearch] = useState("");
  const { data: procedures } = useQuery(proceduresQuery);
  const { data: fitting } = useQuery({
    queryKey: ["guide", id, version, chosen],
    queryFn: () => request<Suggestion[]>("POST", `/api/data-sets/${id}/guide`, { variables: chosen }),
    placeholderData: keepPreviousData,
  });
  const begin = useMutation({
    mutationFn: async (body: { procedure: string; roles?: Suggestion["roles"] }) => {
      await flush();
      return request<Problem>("POST", "/api/problems", { data_set: id, decimals: decimalsForAll(), ...body });
    },
    onSuccess: (problem) => {
      client.setQueryData(["problem", problem.id], problem);
      client.invalidateQueries({ queryKey: ["problems"] });
      client.invalidateQueries({ queryKey: ["data-sets"] });
      navigate(`/problems/${problem.id}/edit`);
    },
  });
  const words = search.trim().toLowerCase();
  const found = words
    ? (procedures ?? []).filter((each) =>
        [each.title, each.asks, ...each.also_called].some((name) => name.toLowerCase().includes(words)),
      )
    : [];
  return (
    <section className="rounded-box border border-base-300 bg-base-200 p-3" aria-label="Work a problem with these">
      <h3 className="font-semibold">Work a problem with {chosen.length > 1 ? "these" : "this"}</h3>
      <ul className="mt-1 grid gap-2">
        {fitting?.map((each) => (
          <li key={each.procedure}>
            <button
              type="button"
              className="act text-left"
              onClick={() => begin.mutate({ procedure: each.procedure, roles: each.roles })}
            >
              {each.asks}
            </button>
            <p>
              <span className="font-semibold">{each.title}.</span> {each.why}
            </p>
          </li>
        ))}
        {fitting?.length === 0 && (
          <li className="text-muted">
            No procedure here fits {chosen.length > 1 ? "these two" : "this one alone"} yet. Another second variable, or
            another kind, may.
          </li>
        )}
      </ul>
      <input
        type="search"
        aria-label="Find a procedure by a textbook’s name"
        className="input input-sm mt-2 w-full bg-sheet"
        placeholder="or by a textbook’s name: Welch, Student …"
        value={search}
        onChange={(event) => setSearch(event.target.value)}
      />
      {words !== "" && (
        <ul className="mt-1 grid gap-1">
          {found.map((each) => (
            <li key={each.id}>
              <button type="button" className="act text-left" onClick={() => begin.mutate({ procedure: each.id })}>
                {each.title}
              </button>
              <p className="text-[0.9rem] text-muted">{each.also_called.join(", ")}</p>
            </li>
          ))}
          {found.length === 0 && <li className="text-muted">No procedure is known by that name.</li>}
        </ul>
      )}
      {begin.isError && (
        <p role="alert" className="mt-1 text-(--region-text)">
          {begin.error.message}
        </p>
      )}
    </section>
  );
}

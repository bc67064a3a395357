import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { useNavigate } from "react-router";
import { request } from "../api/client";
import type { KeptSet, ReshapeRequest } from "../api/types";
import { Dialog } from "../app/Dialog";
import { useToast } from "../app/toasts";
import { upperFirst } from "../lib/words";
import { useSheet } from "./context";
import { PreviewTable } from "./ReadDialog";
import { rowsOf } from "./sheet";

type How = "stack" | "unstack" | "count" | "open-out" | "take";

const ways: Record<How, { title: string; says: string }> = {
  stack: {
    title: "Columns under each other",
    says: "One column a group becomes one column of values and one that names the group.",
  },
  unstack: {
    title: "One column a group",
    says: "A column of values is parted by the groups that another column names.",
  },
  count: {
    title: "Count the cases",
    says: "How often each level occurs, or each pair of levels, as a table of counts.",
  },
  "open-out": { title: "Open counts out into cases", says: "A row for each case that was counted." },
  take: { title: "Take some of the cases", says: "The first ones, or a random choice that its seed brings back." },
};

/** ReshapeDialog makes another data set of this one, with its first rows in view. */
export function ReshapeDialog({ onClose }: { onClose: () => void }) {
  const { id, version, sheet, profiles, flush } = useSheet();
  const navigate = useNavigate();
  const client = useQueryClient();
  const toast = useToast();
  const fieldID = useId();
  const named = sheet.columns.filter((column) => column.name.trim() !== "");
  const kindOf = (key: number) => profiles.get(key)?.kind;
  const numbers = named.filter((column) => kindOf(column.key) === "number").map((column) => column.name);
  const categories = named.filter((column) => kindOf(column.key) === "category").map((column) => column.name);
  const offered: How[] =
    sheet.form === "counts"
      ? ["open-out"]
      : sheet.form === "groups"
        ? ["stack", "take"]
        : ["unstack", "stack", "count", "take"];
  const [how, setHow] = useState<How>(offered[0] ?? "take");
  // What is not chosen follows what the columns turn out to hold.
  const [own, setOwn] = useState<{ columns?: string[]; response?: string; group?: string; row?: string }>({});
  const columns = own.columns ?? (sheet.form === "groups" ? named.map((each) => each.name) : numbers.slice(0, 2));
  const response = own.response ?? numbers[0] ?? "";
  const group = own.group ?? categories[0] ?? "";
  const row = own.row ?? categories[0] ?? "";
  const [column, setColumn] = useState("");
  const [stacked, setStacked] = useState({
    response: sheet.response.label?.toLowerCase() || "value",
    group: sheet.group.label?.toLowerCase() || "group",
  });
  const [n, setN] = useState(String(Math.min(20, rowsOf(sheet))));
  const [random, setRandom] = useState(true);
  const [seed, setSeed] = useState(() => String(1 + Math.floor(Math.random() * 9999)));
  const base = sheet.name || "data";
  const names: Record<How, string> = {
    stack: `${base}, stacked`,
    unstack: `${base} by ${group}`,
    count: column ? `${base}: ${row} by ${column}` : `${base}: counts of ${row}`,
    "open-out": `${base}, opened out`,
    take: random ? `${base}: ${n} at random, seed ${seed}` : `${base}: first ${n}`,
  };
  const [ownName, setOwnName] = useState<string>();
  const name = ownName ?? names[how];
  const places = columns.map((each) => sheet.columns.findIndex((c) => c.name === each)).filter((at) => at >= 0);
  const fields: Record<How, Partial<ReshapeRequest>> = {
    stack: { columns: places, ...stacked },
    unstack: { response, group },
    count: { row, column },
    "open-out": {},
    take: { n: Number(n) || 0, ...(random ? { seed: Math.max(0, Math.floor(Number(seed) || 0)) } : {}) },
  };
  const body = { how, name, ...fields[how] };
  const preview = useQuery({
    queryKey: ["reshape", id, version, { ...body, name: "" }],
    queryFn: () => request<KeptSet>("POST", `/api/data-sets/${id}/reshape`, { ...body, keep: false }),
    placeholderData: keepPreviousData,
  });
  const make = useMutation({
    mutationFn: async (asked: typeof body) => {
      await flush();
      return request<KeptSet>("POST", `/api/data-sets/${id}/reshape`, asked);
    },
    onSuccess: (made) => {
      client.invalidateQueries({ queryKey: ["data-sets"] });
      toast({ says: `“${name}” is a data set of its own; this one stays as it is.` });
      navigate(`/data/${made.id}`);
      onClose();
    },
  });
  // What was refused may be asked for again once it is another thing.
  const refused = make.error && JSON.stringify(make.variables) === JSON.stringify(body) ? make.error : null;
  const wrong = refused ?? preview.error;
  const seen = preview.isSuccess && !preview.isPlaceholderData; // only what was seen is made
  const set = preview.data?.set;
  return (
    <Dialog title="Another shape" onClose={onClose} wide>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          if (!wrong && seen) make.mutate(body);
        }}
      >
        <div className="flex flex-wrap gap-2">
          {offered.map((each) => (
            <button
              key={each}
              type="button"
              aria-pressed={each === how}
              className={`btn btn-sm ${each === how ? "btn-primary" : "btn-outline border-base-300 font-normal"}`}
              onClick={() => setHow(each)}
            >
              {ways[each].title}
            </button>
          ))}
        </div>
        <p className="text-muted">{ways[how].says}</p>
        {how === "stack" && (
          <>
            <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
              <legend className="text-muted">The columns, one a group</legend>
              {named.map((each) => (
                <label key={each.key} className="flex cursor-pointer items-center gap-2">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-sm"
                    checked={columns.includes(each.name)}
                    onChange={(event) =>
                      setOwn({
                        ...own,
                        columns: named
                          .map((c) => c.name)
                          .filter((c) => (c === each.name ? event.target.checked : columns.includes(c))),
                      })
                    }
                  />
                  {each.name}
                </label>
              ))}
            </fieldset>
            <div className="flex flex-wrap gap-4">
              <Text
                id={`${fieldID}-response`}
                label="Name of the values"
                value={stacked.response}
                onChange={(value) => setStacked({ ...stacked, response: value })}
              />
              <Text
                id={`${fieldID}-group`}
                label="Name of the groups"
                value={stacked.group}
                onChange={(value) => setStacked({ ...stacked, group: value })}
              />
            </div>
          </>
        )}
        {how === "unstack" && (
          <div className="flex flex-wrap gap-4">
            <Choice
              id={`${fieldID}-of`}
              label="Values"
              value={response}
              options={named.map((c) => c.name)}
              onChange={(value) => setOwn({ ...own, response: value })}
            />
            <Choice
              id={`${fieldID}-by`}
              label="parted by"
              value={group}
              options={named.map((c) => c.name)}
              onChange={(value) => setOwn({ ...own, group: value })}
            />
          </div>
        )}
        {how === "count" && (
          <div className="flex flex-wrap gap-4">
            <Choice
              id={`${fieldID}-row`}
              label="Rows"
              value={row}
              options={named.map((c) => c.name)}
              onChange={(value) => setOwn({ ...own, row: value })}
            />
            <Choice
              id={`${fieldID}-column`}
              label="Columns"
              value={column}
              options={["", ...named.map((c) => c.name)]}
              onChange={setColumn}
            />
          </div>
        )}
        {how === "take" && (
          <div className="flex flex-wrap items-end gap-4">
            <Text id={`${fieldID}-n`} label="How many" value={n} onChange={setN} />
            <Choice
              id={`${fieldID}-which`}
              label="Which"
              value={random ? "at random" : "the first"}
              options={["at random", "the first"]}
              onChange={(value) => setRandom(value === "at random")}
            />
            {random && (
              <Text
                id={`${fieldID}-seed`}
                label="Seed: the same one draws the same cases"
                value={seed}
                onChange={setSeed}
              />
            )}
          </div>
        )}
        {wrong ? (
          <p role="alert" className="border-region border-l-2 pl-3 text-(--region-text)">
            {upperFirst(wrong.message)}.
          </p>
        ) : (
          set && <PreviewTable set={set} />
        )}
        <Text id={`${fieldID}-name`} label="Name of the new data set" value={name} onChange={setOwnName} wide />
        <button
          type="submit"
          className="btn btn-primary justify-self-start"
          disabled={Boolean(wrong) || !seen || make.isPending}
        >
          Make the data set
        </button>
      </form>
    </Dialog>
  );
}

interface TextProps {
  id: string;
  label: string;
  value: string;
  onChange: (value: string) => void;
  wide?: boolean;
}

function Text({ id, label, value, onChange, wide = false }: TextProps) {
  return (
    <label className="grid gap-0.5" htmlFor={id}>
      <span className="text-[0.9rem] text-muted">{label}</span>
      <input
        id={id}
        className={`input input-sm bg-sheet ${wide ? "w-96 max-w-full" : "w-40"}`}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}

interface ChoiceProps extends Omit<TextProps, "wide"> {
  options: string[];
}

function Choice({ id, label, value, options, onChange }: ChoiceProps) {
  return (
    <label className="grid gap-0.5" htmlFor={id}>
      <span className="text-[0.9rem] text-muted">{label}</span>
      <select
        id={id}
        className="select select-sm w-44 bg-sheet"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map((option) => (
          <option key={option} value={option}>
            {option || "none: one variable"}
          </option>
        ))}
      </select>
    </label>
  );
}

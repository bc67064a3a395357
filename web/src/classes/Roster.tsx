import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { KeyRound, UserMinus } from "lucide-react";
import { useRef, useState } from "react";
import { request } from "../api/client";
import type { ClassView, MemberView, OneTimeLink, RosterPreview, WelcomeView } from "../api/types";
import { CopyButton } from "../app/CopyButton";
import { Dialog } from "../app/Dialog";
import { useToast } from "../app/toasts";
import { copyText } from "../lib/copy";
import { counted, mistakeSentence } from "../lib/words";
import { rosterQuery } from "./queries";

/** Roster is who is in a class. */
export function Roster({ of }: { of: ClassView }) {
  const client = useQueryClient();
  const toast = useToast();
  const { data: roster, error } = useQuery(rosterQuery(of.id));
  const [adding, setAdding] = useState(false);
  const [links, setLinks] = useState<WelcomeView[] | null>(null);
  const refresh = () => client.invalidateQueries({ queryKey: ["classes"] });
  const fail = (failure: Error) => toast({ says: failure.message, bad: true });
  const remove = useMutation({
    mutationFn: (member: MemberView) => request("DELETE", `/api/classes/${of.id}/roster/${member.id}`),
    onSuccess: (_, member) => {
      refresh();
      toast({ says: `${member.name} is off the roster. What they worked stays theirs.` });
    },
    onError: fail,
  });
  const link = useMutation({
    mutationFn: (member: MemberView) => request<OneTimeLink>("POST", `/api/classes/${of.id}/roster/${member.id}/link`),
    onSuccess: ({ path }, { name, user_name = "" }) => setLinks([{ name, user_name, path }]),
    onError: fail,
  });
  const students = roster?.filter((member) => member.in === "student") ?? [];
  return (
    <section className="mt-10" aria-label="Roster">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="flex-1 font-semibold text-[1.15rem]">Roster</h2>
        <button type="button" className="btn btn-sm" onClick={() => setAdding(true)}>
          Add people
        </button>
      </div>
      {error && (
        <p role="alert" className="mt-3 text-(--region-text)">
          {error.message}
        </p>
      )}
      {roster && students.length === 0 && (
        <p className="mt-3 text-muted">No students yet: they join with the code, or you add them from a list.</p>
      )}
      <ul className="mt-3 border-base-300 border-t">
        {roster?.map((member) => (
          <li key={member.id} className="flex items-center gap-3 border-base-300 border-b py-1.5">
            <span className="min-w-0 flex-1 truncate">
              {member.name}
              <span className="text-[0.9rem] text-muted">
                {member.user_name ? ` ${member.user_name}` : " without an account"}
                {member.in === "instructor" ? " · instructor" : ""}
              </span>
            </span>
            {member.link && (
              <button
                type="button"
                className="btn btn-ghost btn-sm btn-square"
                aria-label={`A link with which ${member.name} sets a new password`}
                title="A link with which they set a new password"
                onClick={() => link.mutate(member)}
              >
                <KeyRound size="1.1em" aria-hidden="true" />
              </button>
            )}
            <button
              type="button"
              className="btn btn-ghost btn-sm btn-square"
              aria-label={`Take ${member.name} off the roster`}
              title="Take off the roster"
              onClick={() => remove.mutate(member)}
            >
              <UserMinus size="1.1em" aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      {adding && (
        <AddPeople
          of={of}
          onClose={() => setAdding(false)}
          onAdded={(welcomes) => {
            setAdding(false);
            refresh();
            setLinks(welcomes);
          }}
        />
      )}
      {links && <Links welcomes={links} onClose={() => setLinks(null)} />}
    </section>
  );
}

interface AddProps {
  of: ClassView;
  onClose: () => void;
  onAdded: (welcomes: WelcomeView[]) => void;
}

/** AddPeople brings people onto the roster from a list, after a look at how it is read and what is wrong in it. */
function AddPeople({ of, onClose, onAdded }: AddProps) {
  const [text, setText] = useState("");
  const picker = useRef<HTMLInputElement>(null);
  const preview = useMutation({
    mutationFn: (list: string | File) => request<RosterPreview>("POST", `/api/classes/${of.id}/roster/preview`, list),
  });
  const add = useMutation({
    mutationFn: (people: RosterPreview["people"]) =>
      request<WelcomeView[]>("POST", `/api/classes/${of.id}/roster`, { people }),
    onSuccess: onAdded,
  });
  const read = preview.data;
  const rows = read?.people.map((person, row) => ({ ...person, row }));
  const wrongAt = (row: number) => read?.mistakes.filter((each) => each.pointer.startsWith(`/people/${row}/`)) ?? [];
  const failure = preview.error ?? add.error;
  return (
    <Dialog title="Add people to the roster" onClose={onClose} wide>
      <p className="text-muted">
        A row for each person: a name, and a user name behind a comma. Without one it is made from the name. Who has no
        account yet gets one, with a link to set a password.
      </p>
      <textarea
        className="textarea mt-3 h-36 w-full bg-sheet font-mono text-[0.92rem]"
        aria-label="Names and user names"
        placeholder={"Maren Holt, maren.holt\nEdda Quill, edda.quill"}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <div className="mt-2 flex flex-wrap gap-3">
        <button
          type="button"
          className="btn btn-sm"
          disabled={text.trim() === "" || preview.isPending}
          onClick={() => preview.mutate(text)}
        >
          See how it is read
        </button>
        <button type="button" className="btn btn-sm" onClick={() => picker.current?.click()}>
          Open a file
        </button>
        <input
          ref={picker}
          type="file"
          accept=".csv,.tsv,.txt,.xlsx,.ods"
          className="hidden"
          aria-label="List of people"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            if (file) preview.mutate(file);
            event.target.value = "";
          }}
        />
      </div>
      {failure && (
        <p role="alert" className="mt-3 border-region border-l-2 pl-3 text-(--region-text)">
          {failure.message}
        </p>
      )}
      {read && (
        <>
          <table className="mt-4 w-full">
            <thead className="text-left text-muted">
              <tr className="border-base-300 border-b">
                <th scope="col" className="py-1 font-normal">
                  row
                </th>
                <th scope="col" className="font-normal">
                  name
                </th>
                <th scope="col" className="font-normal">
                  user name
                </th>
              </tr>
            </thead>
            <tbody>
              {rows?.map((person) => {
                const wrong = wrongAt(person.row);
                return (
                  <tr
                    key={person.row}
                    className={`border-base-300 border-b align-top ${wrong.length > 0 ? "bg-region/10" : ""}`}
                  >
                    <td className="py-1 text-muted">{person.row + 1}</td>
                    <td>
                      {person.name}
                      {wrong.map((mistake) => (
                        <span
                          key={mistake.pointer + mistake.says}
                          className="block text-(--region-text) text-[0.92rem]"
                        >
                          {mistakeSentence(mistake)}
                        </span>
                      ))}
                    </td>
                    <td>{person.user_name}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <button
            type="button"
            className="btn btn-primary btn-sm mt-4"
            disabled={read.mistakes.length > 0 || read.people.length === 0 || add.isPending}
            onClick={() => add.mutate(read.people)}
          >
            {read.mistakes.length > 0
              ? "Mend the rows that are marked"
              : `Add ${counted(read.people.length, "person", "people")}`}
          </button>
        </>
      )}
    </Dialog>
  );
}

/** Links are the one-time links of those for whom an account was made, to copy or to print. */
function Links({ welcomes, onClose }: { welcomes: WelcomeView[]; onClose: () => void }) {
  const made = welcomes.filter((each) => each.path);
  const all = made.map((each) => `${each.name}\t${each.user_name}\t${location.origin}${each.path}`).join("\n");
  return (
    <Dialog title={made.length > 0 ? "Links to set a password" : "They are on the roster"} onClose={onClose} wide>
      {made.length === 0 ? (
        <p>Everybody had an account already: the class stands in their list of classes.</p>
      ) : (
        <>
          <p className="text-muted">
            Each is good once, for three days, and is not shown again: copy or print them now, and hand each to its
            person.
          </p>
          <ul className="mt-3 border-base-300 border-t" data-testid="links">
            {made.map((each) => (
              <li
                key={each.user_name}
                className="grid gap-x-4 border-base-300 border-b py-1.5 sm:grid-cols-[12rem_1fr]"
              >
                <span>
                  {each.name} <span className="text-muted">{each.user_name}</span>
                </span>
                <span className="break-all text-[0.92rem]">{`${location.origin}${each.path}`}</span>
              </li>
            ))}
          </ul>
          <p className="mt-4 flex gap-4">
            <CopyButton label="Copy all of them" words="Copy all" copy={() => copyText(all)} />
            <button type="button" className="act" onClick={() => print()}>
              Print
            </button>
          </p>
        </>
      )}
    </Dialog>
  );
}

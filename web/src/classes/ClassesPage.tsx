import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { request } from "../api/client";
import type { ClassList, ClassView, JoinRequest, SetListing } from "../api/types";
import { Fetched } from "../app/Fetched";
import { Mistake } from "../app/Mistake";
import { useMe } from "../app/me";
import { Shell } from "../app/Shell";
import { counted } from "../lib/words";
import { PollCard } from "./PollCard";
import { classesQuery, setsQuery } from "./queries";
import { dueIn } from "./when";

/** ClassesPage has what one is to work, the classes that one is in, and the ways to join one or to make one. */
export function ClassesPage() {
  return (
    <Fetched title="Classes" what="list of classes" fetched={useQuery(classesQuery)}>
      {(list) => <WithSets list={list} />}
    </Fetched>
  );
}

/** WithSets waits for the sets too, so that no class moves away under a finger. */
function WithSets({ list }: { list: ClassList }) {
  return (
    <Fetched title="Classes" what="list of sets" fetched={useQuery(setsQuery(""))}>
      {(sets) => <Loaded list={list} sets={sets} />}
    </Fetched>
  );
}

/** mostAsked is of how many classes one is shown what they are asked: each listens on a connection of its own. */
const mostAsked = 2;

function Loaded({ list, sets }: { list: ClassList; sets: SetListing[] }) {
  const mine = sets.filter((set) => set.in === "student");
  const teaching = list.classes.filter((each) => each.in === "instructor");
  const learning = list.classes.filter((each) => each.in === "student");
  const [params] = useSearchParams();
  const code = params.get("join") ?? "";
  const none = list.classes.length === 0;
  return (
    <Shell title="Classes">
      <div className="mx-auto grid w-full max-w-5xl flex-1 content-start gap-x-14 gap-y-8 px-8 py-9 max-sm:px-4 max-sm:py-6 lg:grid-cols-[1fr_20rem]">
        <div className="grid content-start gap-9">
          <h1 className="font-semibold font-serif text-[2rem] leading-tight">Classes</h1>
          {learning
            .filter((each) => !each.archived)
            .slice(0, mostAsked)
            .map((each) => (
              <PollCard key={each.id} of={each.id} />
            ))}
          {mine.length > 0 && <MySets sets={mine} />}
          {teaching.length > 0 && <Classes title="You teach" classes={teaching} />}
          {learning.length > 0 && <Classes title="You are in" classes={learning} />}
          {none && (
            <p className="max-w-xl text-muted">
              You are in no class yet. Join one by the code that its instructor gave you
              {list.may_make
                ? ", or make one of your own: students join it, work the sets of problems that you hand out, and you see where they are stuck"
                : ""}
              .
            </p>
          )}
        </div>
        <aside className="grid content-start gap-6">
          <Join code={code} />
          {list.may_make && <Make first={none} />}
        </aside>
      </div>
    </Shell>
  );
}

/** MySets are the sets that are handed out to one, those that are due first on top. */
function MySets({ sets }: { sets: SetListing[] }) {
  return (
    <section aria-label="Your sets">
      <h2 className="border-base-300 border-b pb-1.5 font-semibold text-muted">To work</h2>
      <ul>
        {sets.map((set) => (
          <li key={set.id} className="grid grid-cols-[1fr_auto] gap-x-6 border-base-300 border-b py-3">
            <div className="min-w-0">
              <Link to={`/sets/${set.id}`} className="font-semibold font-serif text-[1.25rem] hover:text-primary">
                {set.title || "Untitled set"}
              </Link>
              <p className="text-[0.92rem] text-muted">{set.class_name}</p>
            </div>
            <p className="self-center text-right text-[0.95rem]">{set.due ? dueIn(set.due) : "not due"}</p>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Classes({ title, classes }: { title: string; classes: ClassView[] }) {
  return (
    <section aria-label={title}>
      <h2 className="border-base-300 border-b pb-1.5 font-semibold text-muted">{title}</h2>
      <ul>
        {classes.map((each) => (
          <li key={each.id} className="grid grid-cols-[1fr_auto] gap-x-6 border-base-300 border-b py-3">
            <Link to={`/classes/${each.id}`} className="font-semibold font-serif text-[1.25rem] hover:text-primary">
              {each.name}
            </Link>
            <p className="self-center text-[0.95rem] text-muted">
              {each.archived ? "archived · " : ""}
              {counted(each.students, "student")}
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Join({ code: given }: { code: string }) {
  const me = useMe();
  const client = useQueryClient();
  const navigate = useNavigate();
  const nameless = !me.person?.name && !me.person?.user_name;
  const [code, setCode] = useState(given);
  const [name, setName] = useState("");
  const join = useMutation({
    mutationFn: (body: JoinRequest) => request<ClassView>("POST", "/api/classes/join", body),
    onSuccess: (joined) => {
      client.invalidateQueries({ queryKey: ["classes"] });
      client.invalidateQueries({ queryKey: ["sets"] });
      navigate(`/classes/${joined.id}`);
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    join.mutate({ code: code.trim(), name: name.trim() || undefined });
  };
  return (
    <form className="grid gap-3 rounded-box border border-base-300 bg-base-200 p-4" onSubmit={submit}>
      <h2 className="font-semibold">Join a class</h2>
      <label className="grid gap-1">
        <span className="text-[0.92rem] text-muted">Its code, of 8 letters and digits</span>
        <input
          className="input bg-sheet font-mono uppercase tracking-widest"
          value={code}
          maxLength={20}
          autoComplete="off"
          spellCheck={false}
          onChange={(event) => setCode(event.target.value)}
        />
      </label>
      {nameless && (
        <label className="grid gap-1">
          <span className="text-[0.92rem] text-muted">Your name, as the instructor knows you</span>
          <input
            className="input bg-sheet"
            value={name}
            maxLength={100}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
      )}
      <Mistake error={join.error} />
      <button type="submit" className="btn btn-primary btn-sm w-fit" disabled={join.isPending || code.trim() === ""}>
        Join
      </button>
    </form>
  );
}

function Make({ first }: { first: boolean }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const make = useMutation({
    mutationFn: () => request<ClassView>("POST", "/api/classes", { name: name.trim() }),
    onSuccess: (made) => {
      client.invalidateQueries({ queryKey: ["classes"] });
      navigate(`/classes/${made.id}`);
    },
  });
  return (
    <form
      className="grid gap-3 rounded-box border border-base-300 p-4"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate();
      }}
    >
      <h2 className="font-semibold">{first ? "Make a class" : "Make another class"}</h2>
      <label className="grid gap-1">
        <span className="text-[0.92rem] text-muted">Its name</span>
        <input
          className="input bg-sheet"
          value={name}
          maxLength={100}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <Mistake error={make.error} />
      <button type="submit" className="btn btn-sm w-fit" disabled={make.isPending || name.trim() === ""}>
        Make it
      </button>
    </form>
  );
}

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { type ReactNode, useState } from "react";
import { Link, Navigate } from "react-router";
import { request } from "../api/client";
import { accountQuery, meQuery } from "../api/queries";
import type { AccountRequest, AccountView, Me } from "../api/types";
import { Fetched } from "../app/Fetched";
import { Mistake } from "../app/Mistake";
import { useMe } from "../app/me";
import { Shell } from "../app/Shell";
import { useToast } from "../app/toasts";
import { agentWords } from "./agent";
import { NewPassword, TextField } from "./Fields";
import { signedOutAs } from "./useEnter";

/** AccountPage is one's own account: name, password, where one is signed in, and the way out. */
export function AccountPage() {
  const me = useMe();
  const account = useQuery({ ...accountQuery, enabled: !me.alone });
  if (me.alone) return <Navigate to="/" replace />;
  return (
    <Fetched title="Account" what="account" fetched={account}>
      {(view) => <Account view={view} />}
    </Fetched>
  );
}

/** What each role is called. */
export const roleWords: Record<AccountView["role"], string> = {
  guest: "guest",
  member: "member",
  instructor: "instructor",
  administrator: "administrator",
};

function Account({ view }: { view: AccountView }) {
  const guest = view.role === "guest";
  return (
    <Shell title="Account">
      <div className="mx-auto grid w-full max-w-2xl content-start gap-9 px-6 py-8 max-sm:px-4">
        <div>
          <h1 className="font-semibold font-serif text-[2rem] leading-tight">
            {guest ? "A guest’s account" : view.name || view.user_name}
          </h1>
          <p className="text-muted">
            {guest
              ? "It lives in this browser alone, for a year from its beginning."
              : `Signs in as ${view.user_name}, ${roleWords[view.role]}.`}
          </p>
          {guest && (
            <Link to="/keep" className="act mt-2 inline-block">
              Keep it under a name
            </Link>
          )}
        </div>
        {!guest && <Name view={view} />}
        {!guest && <Password />}
        <Sessions view={view} />
        <Part title="Take all of it along">
          <p className="text-muted">
            One ZIP of all problem files with their data, data sets, reports and attempts. The problem files come in
            again on the page of the problems.
          </p>
          <a href="/api/account/archive" download className="btn btn-outline btn-sm border-base-300">
            <Download size="1.1em" aria-hidden="true" />
            Save everything
          </a>
        </Part>
        <Delete guest={guest} />
      </div>
    </Shell>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="grid justify-items-start gap-3">
      <h2 className="w-full border-base-300 border-b pb-1.5 font-semibold text-muted">{title}</h2>
      {children}
    </section>
  );
}

/** useAccountChange changes the account, and says so. */
function useAccountChange(says: string) {
  const client = useQueryClient();
  const toast = useToast();
  return useMutation({
    mutationFn: (change: AccountRequest) => request<Me>("PATCH", "/api/account", change),
    onSuccess: (me) => {
      client.setQueryData(meQuery.queryKey, me);
      client.invalidateQueries({ queryKey: accountQuery.queryKey });
      toast({ says });
    },
  });
}

function Name({ view }: { view: AccountView }) {
  const [name, setName] = useState(view.name);
  const change = useAccountChange("Your name is changed.");
  return (
    <Part title="Name">
      <form
        className="grid w-full max-w-sm gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ name: name.trim() });
        }}
      >
        <TextField label="As others see it" value={name} onType={setName} autoComplete="name" maxLength={100} />
        <Mistake error={change.error} />
        <button type="submit" className="btn btn-sm w-fit" disabled={name.trim() === view.name || change.isPending}>
          Change the name
        </button>
      </form>
    </Part>
  );
}

function Password() {
  const [now, setNow] = useState("");
  const [next, setNext] = useState("");
  const change = useAccountChange("Your password is changed. You are signed out everywhere else.");
  return (
    <Part title="Password">
      <form
        className="grid w-full max-w-sm gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate(
            { password: now, new_password: next },
            {
              onSuccess: () => {
                setNow("");
                setNext("");
              },
            },
          );
        }}
      >
        <TextField
          label="Present password"
          type="password"
          value={now}
          onType={setNow}
          autoComplete="current-password"
          maxLength={200}
        />
        <NewPassword label="New password" value={next} onType={setNext} />
        <Mistake error={change.error} />
        <button type="submit" className="btn btn-sm w-fit" disabled={change.isPending}>
          Change the password
        </button>
      </form>
    </Part>
  );
}

const day = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric" });

function Sessions({ view }: { view: AccountView }) {
  const client = useQueryClient();
  const toast = useToast();
  const out = useMutation({
    mutationFn: () => request<Me>("POST", "/api/account/sign-out-elsewhere"),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: accountQuery.queryKey });
      toast({ says: "You are signed out everywhere else." });
    },
    onError: (error) => toast({ says: error.message, bad: true }),
  });
  return (
    <Part title="Where you are signed in">
      <ul className="grid w-full gap-2">
        {view.sessions.map((session) => (
          <li key={session.created_at} className="flex justify-between gap-6">
            <span className="min-w-0 truncate">{agentWords(session.agent)}</span>
            <span className="whitespace-nowrap text-muted">since {day.format(new Date(session.created_at))}</span>
          </li>
        ))}
      </ul>
      {view.sessions.length > 1 && (
        <button type="button" className="btn btn-sm" onClick={() => out.mutate()}>
          Sign out everywhere else
        </button>
      )}
    </Part>
  );
}

function Delete({ guest }: { guest: boolean }) {
  const [asked, setAsked] = useState(false);
  const [password, setPassword] = useState("");
  const remove = useMutation({
    mutationFn: () => request<Me>("DELETE", "/api/account", guest ? {} : { password }),
    onSuccess: signedOutAs,
  });
  return (
    <Part title="Delete the account">
      <p className="text-muted">
        All problems, data sets, attempts and reports go with it, at once and wholly. They do not come back.
      </p>
      {asked ? (
        <form
          className="grid w-full max-w-sm gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            remove.mutate();
          }}
        >
          {!guest && (
            <TextField
              label="Your password"
              type="password"
              value={password}
              onType={setPassword}
              autoComplete="current-password"
              maxLength={200}
            />
          )}
          <Mistake error={remove.error} />
          <span className="flex gap-2">
            <button type="submit" className="btn btn-error btn-sm" disabled={remove.isPending}>
              Delete everything
            </button>
            <button type="button" className="btn btn-sm" onClick={() => setAsked(false)}>
              Leave it
            </button>
          </span>
        </form>
      ) : (
        <button type="button" className="btn btn-outline btn-sm border-base-300" onClick={() => setAsked(true)}>
          Delete the account …
        </button>
      )}
    </Part>
  );
}

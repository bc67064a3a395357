import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Navigate } from "react-router";
import { request } from "../api/client";
import { machineQuery, peopleQuery } from "../api/queries";
import type { OneTimeLink, PersonListing, RoleRequest } from "../api/types";
import { CopyButton } from "../app/CopyButton";
import { Fetched } from "../app/Fetched";
import { Finder } from "../app/Finder";
import { useMe } from "../app/me";
import { Shell } from "../app/Shell";
import { useToast } from "../app/toasts";
import { copyText } from "../lib/copy";
import { found } from "../lib/finding";
import { counted } from "../lib/words";

/** PeoplePage is the administrator's: who signs in, their roles, one-time links, and how full the database is. */
export function PeoplePage() {
  const me = useMe();
  const mine = me.person?.role === "administrator" && !me.alone;
  const people = useQuery({ ...peopleQuery, enabled: mine });
  if (!mine) return <Navigate to="/" replace />;
  return (
    <Fetched title="People" what="list of people" fetched={people}>
      {(list) => <People list={list} />}
    </Fetched>
  );
}

function People({ list }: { list: PersonListing[] }) {
  const [looked, setLooked] = useState("");
  const { data: machine } = useQuery(machineQuery);
  const seen = found(list, looked, (each) => `${each.name} ${each.user_name} ${each.role}`);
  return (
    <Shell title="People">
      <div className="mx-auto w-full max-w-4xl flex-1 px-8 py-8 max-sm:px-4">
        <h1 className="font-semibold font-serif text-[2rem] leading-tight">People</h1>
        {machine && (
          <p className="mt-1 text-muted">
            {counted(machine.people, "account")}, {counted(machine.guests, "guest")}. The database takes{" "}
            {Math.ceil(machine.database_bytes / 2 ** 20)} MiB. Grund {machine.version}.
          </p>
        )}
        {machine && (
          <details className="mt-1 text-muted">
            <summary className="act inline cursor-pointer">How the tables became what they are</summary>
            <ol className="mt-2 grid gap-x-6 text-[0.92rem] sm:grid-cols-2">
              {machine.migrations.map(({ number, name, at }) => (
                <li key={number}>
                  {number}. {name || "not known to this version"}, {day.format(new Date(at))}
                </li>
              ))}
            </ol>
          </details>
        )}
        <div className="mt-5">
          <Finder what="the people" looked={looked} onLook={setLooked} />
        </div>
        <ul className="mt-5 border-base-300 border-t">
          {seen.map((person) => (
            <Row key={person.id} person={person} />
          ))}
        </ul>
        {seen.length === 0 && <p className="mt-4 text-muted">Nobody is called so.</p>}
      </div>
    </Shell>
  );
}

const day = new Intl.DateTimeFormat("en-GB", { dateStyle: "long" });

const roles: { role: RoleRequest["role"]; label: string }[] = [
  { role: "member", label: "member" },
  { role: "instructor", label: "instructor" },
  { role: "administrator", label: "administrator" },
];

function Row({ person }: { person: PersonListing }) {
  const client = useQueryClient();
  const toast = useToast();
  const onError = (error: Error) => toast({ says: error.message, bad: true });
  const setRole = useMutation({
    mutationFn: (role: RoleRequest["role"]) => request("PUT", `/api/people/${person.id}/role`, { role }),
    onSettled: () => client.invalidateQueries({ queryKey: peopleQuery.queryKey }),
    onError,
  });
  const link = useMutation({
    mutationFn: () => request<OneTimeLink>("POST", `/api/people/${person.id}/link`),
    onError,
  });
  const address = link.data && `${location.origin}${link.data.path}`;
  return (
    <li className="border-base-300 border-b py-3">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <span className="min-w-40 flex-1">
          <span className="font-semibold">{person.name || person.user_name}</span>
          <span className="block text-[0.9rem] text-muted">
            {person.user_name}
            {person.demo ? ", of the demo" : ""}
          </span>
        </span>
        <select
          className="select select-sm w-auto bg-sheet"
          aria-label={`Role of ${person.user_name}`}
          value={person.role}
          onChange={(event) => setRole.mutate(event.target.value as RoleRequest["role"])}
        >
          {roles.map(({ role, label }) => (
            <option key={role} value={role}>
              {label}
            </option>
          ))}
        </select>
        <button type="button" className="btn btn-sm" disabled={link.isPending} onClick={() => link.mutate()}>
          Link for a new password
        </button>
      </div>
      {address && (
        <p className="mt-2 flex items-center gap-2 text-[0.92rem]">
          <span className="min-w-0 break-all">{address}</span>
          <CopyButton label="Copy the link" copy={() => copyText(address)} />
          <span className="whitespace-nowrap text-muted">good once, for three days</span>
        </p>
      )}
    </li>
  );
}

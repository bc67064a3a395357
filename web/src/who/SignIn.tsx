import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { type RequestError, request } from "../api/client";
import type { Me } from "../api/types";
import { Mistake } from "../app/Mistake";
import { TextField } from "./Fields";

interface Props {
  me: Me;
  /** The user name that is likely. */
  userName?: string;
  onIn: (me: Me) => void;
}

/** SignIn asks for a user name and a password; in the demo its people sign in by a click. */
export function SignIn({ me, userName = "", onIn }: Props) {
  const guest = me.person?.role === "guest";
  const [name, setName] = useState(userName);
  const [password, setPassword] = useState("");
  const [bring, setBring] = useState(true);
  const enter = useMutation({
    mutationFn: () => request<Me>("POST", "/api/sign-in", { user_name: name.trim(), password, bring: guest && bring }),
    onSuccess: onIn,
  });
  const click = useMutation({
    mutationFn: (who: string) => request<Me>("POST", `/api/demo-people/${who}`),
    onSuccess: onIn,
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    enter.mutate();
  };
  return (
    <div className="grid gap-6">
      <form className="grid gap-3" onSubmit={submit}>
        <TextField label="User name" value={name} onType={setName} autoComplete="username" maxLength={100} />
        <TextField
          label="Password"
          type="password"
          value={password}
          onType={setPassword}
          autoComplete="current-password"
          maxLength={200}
        />
        {guest && (
          <label className="flex cursor-pointer items-baseline gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm relative top-0.5"
              checked={bring}
              onChange={(event) => setBring(event.target.checked)}
            />
            Bring along what was made in this browser
          </label>
        )}
        <Mistake error={(enter.error ?? click.error) as RequestError | null} />
        <button type="submit" className="btn btn-primary w-fit" disabled={enter.isPending}>
          Sign in
        </button>
      </form>
      {me.provider && (
        <a href={me.provider.path} className="btn btn-outline w-fit border-base-300">
          Sign in through {me.provider.name}
        </a>
      )}
      {me.demo && (
        <section>
          <h2 className="font-semibold">People of the demo</h2>
          <p className="text-[0.92rem] text-muted">
            Made up, to look around as: an instructor and four students of the Kelpwick harbour school. They need no
            password.
          </p>
          <ul className="mt-2 flex flex-wrap gap-2">
            {me.demo.map((person) => (
              <li key={person.user_name}>
                <button
                  type="button"
                  className="btn btn-outline btn-sm border-base-300"
                  disabled={click.isPending}
                  onClick={() => click.mutate(person.user_name)}
                >
                  {person.name}
                  <span className="font-normal text-muted">
                    {person.role === "instructor" ? "instructor" : "student"}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

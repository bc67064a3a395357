import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Navigate, useNavigate } from "react-router";
import { request } from "../api/client";
import { meQuery } from "../api/queries";
import type { Me } from "../api/types";
import { Mistake } from "../app/Mistake";
import { useMe } from "../app/me";
import { Shell } from "../app/Shell";
import { useToast } from "../app/toasts";
import { NewPassword, TextField, UserName } from "./Fields";

/** KeepPage gives a guest a name to sign in under: everything stays theirs. */
export function KeepPage() {
  const me = useMe();
  const client = useQueryClient();
  const navigate = useNavigate();
  const toast = useToast();
  const [userName, setUserName] = useState("");
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const keep = useMutation({
    mutationFn: () =>
      request<Me>("POST", "/api/account/keep", { user_name: userName.trim(), name: name.trim(), password }),
    onSuccess: (now) => {
      client.setQueryData(meQuery.queryKey, now);
      toast({ says: `Your work is kept under the name “${now.person?.user_name}”.` });
      navigate("/");
    },
  });
  if (me.alone || me.person?.role !== "guest") return <Navigate to="/" replace />;
  return (
    <Shell title="Keep this work">
      <form
        className="mx-auto grid w-full max-w-md content-start gap-4 px-6 py-10"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <h1 className="font-semibold font-serif text-[1.9rem] leading-tight">Keep this work under a name</h1>
        <p className="text-muted">
          Now it lives in this browser alone. Under a name you find it from anywhere; nothing is lost on the way, and no
          address of yours is asked for.
        </p>
        <UserName value={userName} onType={setUserName} />
        <TextField
          label="Your name, as others see it"
          value={name}
          onType={setName}
          autoComplete="name"
          maxLength={100}
          required={false}
          says="The user name, if you leave it out."
        />
        <NewPassword label="Password" value={password} onType={setPassword} />
        <Mistake error={keep.error} />
        <button type="submit" className="btn btn-primary w-fit" disabled={keep.isPending}>
          Keep it
        </button>
      </form>
    </Shell>
  );
}

import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useParams } from "react-router";
import { request } from "../api/client";
import type { LinkView, Me } from "../api/types";
import { Mistake } from "../app/Mistake";
import { NewPassword, UserName } from "./Fields";
import { entered } from "./useEnter";

/** LinkPage sets a password by a one-time link, or makes the first administrator. */
export function LinkPage() {
  const { token = "" } = useParams();
  const path = `/api/links/${encodeURIComponent(token)}`;
  const { data: link, error } = useQuery({
    queryKey: ["link", token],
    queryFn: () => request<LinkView>("GET", path),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const [userName, setUserName] = useState("");
  const [password, setPassword] = useState("");
  const first = link !== undefined && !link.user_name;
  const use = useMutation({
    mutationFn: () => request<Me>("POST", path, { user_name: first ? userName.trim() : undefined, password }),
    onSuccess: () => entered(first ? "/people" : "/"),
  });
  useEffect(() => {
    document.title = "Set a password · Grund";
  }, []);
  return (
    <main id="main" className="grid min-h-dvh content-start justify-items-center bg-base-200 px-4 py-[10vh]">
      <form
        className="grid w-full max-w-md gap-4 rounded-box border border-base-300 bg-base-100 p-7 max-sm:p-5"
        onSubmit={(event) => {
          event.preventDefault();
          use.mutate();
        }}
      >
        <p className="font-semibold font-serif text-[1.45rem] text-primary leading-none">Grund</p>
        <h1 className="font-semibold font-serif text-[1.7rem] leading-tight">
          {first ? "Look after Grund" : "Set a new password"}
        </h1>
        {error && <Mistake error={error} />}
        {link && (
          <>
            <p className="text-muted">
              {first
                ? "Whoever uses this link becomes the administrator: makes instructors, helps with forgotten passwords, and sees nobody’s work."
                : `For “${link.user_name}”. All sessions of this account end.`}
            </p>
            {first && <UserName value={userName} onType={setUserName} />}
            <NewPassword label="New password" value={password} onType={setPassword} />
            <Mistake error={use.error} />
            <button type="submit" className="btn btn-primary w-fit" disabled={use.isPending}>
              {first ? "Become the administrator" : "Set the password"}
            </button>
          </>
        )}
      </form>
    </main>
  );
}

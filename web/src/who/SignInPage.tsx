import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { meQuery } from "../api/queries";
import type { Me } from "../api/types";
import { Mistake } from "../app/Mistake";
import { SignIn } from "./SignIn";
import { entered, useEnter } from "./useEnter";

/** The pages from which somebody is sent to sign in, and to which they come back. */
const comesBack = /^\/shared\/[A-Z2-7]+$/;

/** SignInPage is what who is not signed in sees: the ways in. */
export function SignInPage({ me }: { me?: Me }) {
  const { data } = useQuery({ ...meQuery, enabled: me === undefined });
  const now = me ?? data;
  const { guest } = useEnter();
  const params = new URLSearchParams(location.search);
  const failed = params.get("provider") === "failed";
  const to = params.get("to") ?? "";
  useEffect(() => {
    document.title = "Sign in · Grund";
  }, []);
  return (
    <main id="main" className="grid min-h-dvh content-start justify-items-center bg-base-200 px-4 py-[10vh]">
      <div className="w-full max-w-md rounded-box border border-base-300 bg-base-100 p-7 max-sm:p-5">
        <p className="font-semibold font-serif text-[1.45rem] text-primary leading-none">Grund</p>
        <h1 className="mt-4 mb-5 font-semibold font-serif text-[1.7rem] leading-tight">Sign in</h1>
        {failed && (
          <p role="alert" className="mb-4 border-region border-l-2 pl-3 text-(--region-text)">
            {now?.provider ? `Signing in through ${now.provider.name} did not go well. ` : ""}Try it again in a moment,
            or take another way in.
          </p>
        )}
        {now && !now.alone && <SignIn me={now} onIn={() => entered(comesBack.test(to) ? to : undefined)} />}
        {now?.guests && now.person?.role !== "guest" && (
          <section className="mt-6 border-base-300 border-t pt-4">
            <p className="text-muted">
              No name is needed to work: what you make stays in this browser, until you keep it under a name.
            </p>
            <button
              type="button"
              className="btn btn-outline btn-sm mt-2 border-base-300"
              disabled={guest.isPending}
              onClick={() => guest.mutate()}
            >
              Work without a name
            </button>
            <Mistake error={guest.error} />
          </section>
        )}
      </div>
    </main>
  );
}

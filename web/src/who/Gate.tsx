import { useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, type ReactNode, Suspense, useCallback, useEffect, useState } from "react";
import { useLocation } from "react-router";
import { askAs, request, signedOut } from "../api/client";
import { meQuery } from "../api/queries";
import type { Me } from "../api/types";
import { Dialog } from "../app/Dialog";
import { Message } from "../app/Message";
import { MeProvider } from "../app/me";
import { beginGuest, entered, leftOnPurpose } from "./useEnter";

const SignIn = lazy(() => import("./SignIn").then((module) => ({ default: module.SignIn })));
const SignInPage = lazy(() => import("./SignInPage").then((module) => ({ default: module.SignInPage })));

/** The pages that need nobody: a one-time link, what was shared by a link, and the way to sign in. */
const open = /^\/(link\/|shared\/|sign-in$)/;

/**
 * Gate lets in who is signed in; who comes for the first time works at once, as a guest, where that may be. Whose session
 * ends while they work signs in over the page: nothing on it is lost.
 */
export function Gate({ children }: { children: ReactNode }) {
  const { data: me, error, refetch } = useQuery(meQuery);
  const { pathname } = useLocation();
  const [ended, setEnded] = useState(false);
  const begins = me !== undefined && !me.alone && !me.person && me.guests && !leftOnPurpose() && !open.test(pathname);
  const [failure, setFailure] = useState<Error | null>(null);
  const client = useQueryClient();
  useEffect(() => {
    if (!begins) return;
    beginGuest()
      .then((now) => client.setQueryData(meQuery.queryKey, now))
      .catch(setFailure);
  }, [begins, client]);
  useEffect(() => askAs(me?.person && !me.alone ? me.person.id : ""), [me]);
  const inside = me?.person !== undefined;
  useEffect(() => {
    const note = () => inside && setEnded(true);
    addEventListener(signedOut, note);
    return () => removeEventListener(signedOut, note);
  }, [inside]);
  const again = useCallback(
    (now: Me) => {
      if (now.person?.id !== me?.person?.id) return entered(); // another one's page is not this one's
      setEnded(false);
      client.setQueryData(meQuery.queryKey, now);
      client.invalidateQueries();
    },
    [me, client],
  );
  const goOn = useCallback(
    (now: Me) => {
      askAs(now.person?.id ?? "");
      client.setQueryData(meQuery.queryKey, now);
      setEnded(false);
    },
    [client],
  );
  if (!me || begins) {
    const trouble = failure ?? (me ? null : error);
    return trouble ? (
      <Message
        title="Grund cannot be used now."
        says={trouble.message}
        retry={() => (me ? location.reload() : refetch())}
      />
    ) : (
      <p className="p-8 text-muted" role="status">
        One moment …
      </p>
    );
  }
  if (!me.person && !open.test(pathname))
    return (
      <Suspense>
        <SignInPage me={me} />
      </Suspense>
    );
  return (
    <MeProvider value={me}>
      {children}
      {ended && <Ended me={me} onIn={again} onGoOn={goOn} />}
    </MeProvider>
  );
}

interface EndedProps {
  me: Me;
  /** Takes who has signed in again. */
  onIn: (me: Me) => void;
  /** Goes on with the page as somebody else. */
  onGoOn: (me: Me) => void;
}

/** Ended says over the page that its session has ended; who types is not interrupted, and signs in when they like. */
function Ended({ me, onIn, onGoOn }: EndedProps) {
  const [open, setOpen] = useState(false);
  const [failure, setFailure] = useState("");
  const name = me.person?.user_name;
  // A guest cannot come back: who is signed in now goes on with the page, where its things have come along.
  const goOn = async () => {
    try {
      const now = await request<Me>("GET", "/api/me");
      onGoOn(now.person ? now : await beginGuest());
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  return (
    <>
      <div
        role="alert"
        data-testid="signed-out"
        className="fixed inset-x-0 top-0 z-30 flex flex-wrap items-center justify-center gap-x-6 gap-y-1 border-region border-b bg-base-200 px-6 py-2.5 shadow-lg"
      >
        {name ? (
          <>
            <span>
              You are signed out, or somebody else is signed in in this browser. Nothing on this page is lost: it is
              kept when you are signed in as {name}.
            </span>
            <button type="button" className="act" onClick={() => setOpen(true)}>
              Sign in again
            </button>
          </>
        ) : (
          <>
            <span>
              The guest of this page is not signed in here any more. What you typed stays on the page. {failure}
            </span>
            <button type="button" className="act" onClick={goOn}>
              Go on as who is signed in now
            </button>
          </>
        )}
      </div>
      {open && (
        <Dialog title={`Sign in as ${name}`} onClose={() => setOpen(false)}>
          <Suspense>
            <SignIn me={{ ...me, person: undefined }} userName={name} onIn={onIn} />
          </Suspense>
        </Dialog>
      )}
    </>
  );
}

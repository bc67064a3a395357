import { useEffect } from "react";
import { Message } from "../app/Message";
import { Shell } from "../app/Shell";
import { useEnter } from "./useEnter";

/** SignOutPage signs out: whatever page was there before has kept its changes by then. */
export function SignOutPage() {
  const {
    out: { mutate, error },
  } = useEnter();
  useEffect(() => mutate(), [mutate]);
  return (
    <Shell title="Sign out">
      {error && <Message title="You are still signed in." says={error.message} retry={() => mutate()} />}
    </Shell>
  );
}

import { useMutation } from "@tanstack/react-query";
import { request } from "../api/client";
import type { Me } from "../api/types";

const left = "grund.left";

/** leftOnPurpose tells whether somebody has signed out here, and is not to be let in as a guest unasked. */
export const leftOnPurpose = (): boolean => localStorage.getItem(left) !== null;

/** What the browser remembers for whoever sits at it: how pages look. */
const shared = new Set(["grund.theme", "grund.size", "grund.singleKeys"]);

/** forget drops what the browser remembers of the person before: names, what was opened, where things were kept. */
function forget() {
  for (const storage of [localStorage, sessionStorage]) {
    for (const key of Object.keys(storage)) {
      if (key.startsWith("grund.") && !shared.has(key)) storage.removeItem(key);
    }
  }
}

/** entered begins the page of who is signed in now: nothing of anybody else stays on it. */
export function entered(to = "/") {
  forget();
  location.assign(to);
}

/**
 * beginGuest lets somebody work at once. Two tabs that begin together are one guest: the second waits, and is told of the
 * first, whose cookie it has by then.
 */
export const beginGuest = (): Promise<Me> => {
  const begin = () => request<Me>("POST", "/api/guests");
  // A browser that is asked over an unencrypted line by name has no locks.
  return navigator.locks ? navigator.locks.request("grund.guest", begin) : begin();
};

/** signedOutAs leaves the page of who has signed out: for the guest who was there before, or for the ways in. */
export function signedOutAs(now: Me) {
  if (now.person) return entered();
  forget();
  localStorage.setItem(left, "1");
  location.assign("/sign-in");
}

/** useEnter are the ways in and out that need no password. */
export function useEnter() {
  const guest = useMutation({
    mutationFn: beginGuest,
    onSuccess: () => entered(),
  });
  const out = useMutation({
    mutationFn: () => request<Me>("POST", "/api/sign-out"),
    onSuccess: signedOutAs,
  });
  return { guest, out };
}

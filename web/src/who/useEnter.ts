import { useMutation } from "@tanstack/react-query";
import { request } from "../api/client";
import type { Me } from "../api/types";

const left = "grund.left";

/** leftOnPurpose tells whether somebody has signed out here, and is not to be let in as a guest unasked. */
export const leftOnPurpose = (): boolean => localStorage.getItem(left) !== null;

/** entered begins the page of who is signed in now: nothing of anybody else stays on it. */
export function entered(to = "/") {
  localStorage.removeItem(left);
  location.assign(to);
}

/** useEnter are the ways in and out that need no password. */
export function useEnter() {
  const guest = useMutation({
    mutationFn: () => request<Me>("POST", "/api/guests"),
    onSuccess: () => entered(),
  });
  const out = useMutation({
    mutationFn: () => request("POST", "/api/sign-out"),
    onSuccess: () => {
      localStorage.setItem(left, "1");
      location.assign("/sign-in");
    },
  });
  return { guest, out };
}

import { queryOptions } from "@tanstack/react-query";
import { request } from "../api/client";
import type {
  ClassList,
  ClassView,
  DeedView,
  KeysView,
  LastPoll,
  MarksView,
  MemberView,
  PollListing,
  PollView,
  SetListing,
  SetProblem,
  SetView,
  VariantsView,
  WorkView,
} from "../api/types";

export const classesQuery = queryOptions({
  queryKey: ["classes"],
  queryFn: () => request<ClassList>("GET", "/api/classes"),
});

export const classQuery = (id: string) =>
  queryOptions({ queryKey: ["classes", id], queryFn: () => request<ClassView>("GET", `/api/classes/${id}`) });

export const rosterQuery = (id: string) =>
  queryOptions({
    queryKey: ["classes", id, "roster"],
    queryFn: () => request<MemberView[]>("GET", `/api/classes/${id}/roster`),
  });

export const deedsQuery = (id: string) =>
  queryOptions({
    queryKey: ["classes", id, "deeds"],
    queryFn: () => request<DeedView[]>("GET", `/api/classes/${id}/deeds`),
  });

/** The sets of a class; of all that one is in where that is "". */
export const setsQuery = (of: string) =>
  queryOptions({
    queryKey: ["sets", "of", of],
    queryFn: () => request<SetListing[]>("GET", of ? `/api/classes/${of}/sets` : "/api/sets"),
  });

export const setQuery = (id: string) =>
  queryOptions({ queryKey: ["sets", id], queryFn: () => request<SetView>("GET", `/api/sets/${id}`) });

export const workOfSetQuery = (id: string) =>
  queryOptions({ queryKey: ["sets", id, "work"], queryFn: () => request<WorkView>("GET", `/api/sets/${id}/work`) });

export const variantsQuery = (id: string, version: number) =>
  queryOptions({
    queryKey: ["sets", id, "variants", version],
    queryFn: () => request<VariantsView>("GET", `/api/sets/${id}/variants`),
  });

export const keysQuery = (id: string) =>
  queryOptions({
    queryKey: ["sets", id, "keys"],
    queryFn: () => request<KeysView>("GET", `/api/sets/${id}/keys`),
    staleTime: 0, // draws, the roster and the set change them
  });

export const marksQuery = (id: string) =>
  queryOptions({ queryKey: ["sets", id, "marks"], queryFn: () => request<MarksView>("GET", `/api/sets/${id}/marks`) });

/** A problem of a set as somebody gets it: who asks, or for an instructor a student. */
export const setProblemQuery = (id: string, person = "") =>
  queryOptions({
    queryKey: ["set-problem", id, person],
    queryFn: () => request<SetProblem>("GET", `/api/set-problems/${id}${person && `?person=${person}`}`),
  });

/** What a class is asked now, or was last. */
export const lastPollQuery = (of: string) =>
  queryOptions({
    queryKey: ["classes", of, "poll"],
    queryFn: () => request<LastPoll>("GET", `/api/classes/${of}/poll`),
  });

export const pollsQuery = (of: string) =>
  queryOptions({
    queryKey: ["classes", of, "polls"],
    queryFn: () => request<PollListing[]>("GET", `/api/classes/${of}/polls`),
  });

export const pollQuery = (id: string) =>
  queryOptions({ queryKey: ["polls", id], queryFn: () => request<PollView>("GET", `/api/polls/${id}`) });

import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { request } from "./client";
import type { Description, Listing, Problem, ProblemSet, Solution } from "./types";

export const problemsQuery = queryOptions({
  queryKey: ["problems"],
  queryFn: () => request<Listing[]>("GET", "/api/problems"),
});

export const proceduresQuery = queryOptions({
  queryKey: ["procedures"],
  queryFn: () => request<Description[]>("GET", "/api/procedures"),
  staleTime: Number.POSITIVE_INFINITY,
});

export const problemQuery = (id: string) =>
  queryOptions({
    queryKey: ["problem", id],
    queryFn: () => request<Problem>("GET", `/api/problems/${id}`),
  });

/** The solution of a kept problem with some settings changed. */
export const workQuery = (problem: Pick<Problem, "id" | "version" | "data_version">, set: ProblemSet[]) =>
  queryOptions({
    queryKey: ["work", problem.id, problem.version, problem.data_version, set],
    queryFn: () => request<Solution>("POST", `/api/problems/${problem.id}/work`, { set }),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });

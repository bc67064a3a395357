import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { request } from "./client";
import type { Description, Listing, Power, PowerQuestion, Problem, ProblemSet, Solution } from "./types";

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

/** How the test of a kept problem does where something stated is true. */
export const powerQuery = (
  problem: Pick<Problem, "id" | "version" | "data_version">,
  set: ProblemSet[],
  question: PowerQuestion,
) =>
  queryOptions({
    queryKey: ["power", problem.id, problem.version, problem.data_version, set, question],
    queryFn: () => request<Power>("POST", `/api/problems/${problem.id}/power`, { set, question }),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });

import { keepPreviousData, type QueryClient, queryOptions } from "@tanstack/react-query";
import { RequestError, request, requestList } from "./client";
import type {
  AccountView,
  Description,
  KeptForReport,
  LabReport,
  Listing,
  MachineView,
  Me,
  PersonListing,
  Power,
  PowerQuestion,
  Problem,
  ProblemSet,
  ReportListing,
  SharedThing,
  Worked,
} from "./types";

export const problemsQuery = queryOptions({
  queryKey: ["problems"],
  queryFn: () => requestList<Listing>("/api/problems"),
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

/** What a link leads to. */
export const sharedQuery = (token: string) =>
  queryOptions({
    queryKey: ["shared", token],
    queryFn: () => request<SharedThing>("GET", `/api/shared/${token}`),
  });

/** The problem that a link leads to; its id is that of the link. */
export const sharedProblemQuery = (token: string) =>
  queryOptions({
    queryKey: ["problem", token],
    queryFn: () => request<Problem>("GET", `/api/shared/${token}/problem`),
  });

/** pathOf is where a problem is asked: one's own, or another's by its link. */
export const pathOf = ({ id, shared }: Pick<Problem, "id" | "shared">): string =>
  shared ? `/api/shared/${id}` : `/api/problems/${id}`;

export const meQuery = queryOptions({
  queryKey: ["me"],
  queryFn: () => request<Me>("GET", "/api/me"),
  staleTime: Number.POSITIVE_INFINITY,
});

export const accountQuery = queryOptions({
  queryKey: ["account"],
  queryFn: () => request<AccountView>("GET", "/api/account"),
});

export const peopleQuery = queryOptions({
  queryKey: ["people"],
  queryFn: () => requestList<PersonListing>("/api/people"),
});

export const machineQuery = queryOptions({
  queryKey: ["machine"],
  queryFn: () => request<MachineView>("GET", "/api/machine"),
});

export const reportsQuery = queryOptions({
  queryKey: ["reports"],
  queryFn: () => requestList<ReportListing>("/api/reports"),
});

export const reportQuery = (id: string) =>
  queryOptions({
    queryKey: ["report", id],
    queryFn: () => request<LabReport>("GET", `/api/reports/${id}`),
  });

/** What of a problem is kept for a report, for its own where that is "". */
export const keptQuery = (problem: string, report: string) =>
  queryOptions({
    queryKey: ["kept", problem, report],
    queryFn: () => request<KeptForReport>("GET", `/api/problems/${problem}/kept${report && `?report=${report}`}`),
  });

/** Of what a solution or a part of one is asked for. */
export type Versions = Pick<Problem, "id" | "shared" | "version" | "data_version">;

/** outOfDate lets the problem be fetched anew where the server has another version than was asked for. */
function outOfDate(client: QueryClient, id: string): (error: unknown) => never {
  return (error) => {
    if (error instanceof RequestError && error.status === 409)
      client.invalidateQueries({ queryKey: problemQuery(id).queryKey });
    throw error;
  };
}

/** askOf asks the server of these versions of a problem and its data, and of no others. */
export const askOf = <T>(client: QueryClient, of: Versions, what: string, body: object) => {
  const { id, version, data_version } = of;
  return request<T>("POST", `${pathOf(of)}/${what}`, { version, data_version, ...body }).catch(outOfDate(client, id));
};

/** The solution of a kept problem with some settings changed, as far as its first steps; all where steps is 0. */
export const workQuery = (problem: Versions, set: ProblemSet[], steps: number) =>
  queryOptions({
    queryKey: ["work", problem.id, problem.version, problem.data_version, set, steps],
    queryFn: ({ client }) => askOf<Worked>(client, problem, "work", { set, steps }),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });

/** How the test of a kept problem does, with some settings changed, where something stated is true. */
export const powerQuery = (problem: Versions, set: ProblemSet[], question: PowerQuestion) =>
  queryOptions({
    queryKey: ["power", problem.id, problem.version, problem.data_version, set, question],
    queryFn: ({ client }) => askOf<Power>(client, problem, "power", { set, question }),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });

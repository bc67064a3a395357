import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { problemQuery, proceduresQuery } from "../api/queries";
import type { Description, Problem } from "../api/types";
import { Fetched } from "../app/Fetched";
import { Shell } from "../app/Shell";
import { dataSetQuery, type HeldSet } from "../data/context";
import { leftKept } from "../lib/keepings";
import { useShortcuts } from "../lib/keys";
import { DataFields } from "./DataFields";
import { DraftProvider, useDraftState } from "./draft";
import { ClaimFields, QuestionFields } from "./QuestionFields";
import { RoleFields } from "./RoleFields";
import { Section } from "./Section";
import { StatusPanel } from "./StatusPanel";
import { TestFields } from "./TestFields";
import { TryFields } from "./TryFields";

/** EditPage is where a problem is made and changed: its question, its data, what is asked of them. */
export function EditPage() {
  const { id = "" } = useParams();
  const { data: problem, error, refetch } = useQuery(problemQuery(id));
  const fresh = useFresh(id);
  const { data: procedures } = useQuery(proceduresQuery);
  const { data: held, error: dataError } = useQuery(dataSetQuery(problem?.data_set ?? ""));
  const all = fresh && problem?.draft && procedures?.length && held ? { problem, held, procedures } : undefined;
  const failed = problem ? (held ? null : dataError) : error;
  return (
    <Fetched title="Edit" what="problem" fetched={{ data: all, error: failed, refetch }}>
      {({ problem, held, procedures }) => (
        <Editor key={problem.id} problem={problem} held={held} procedures={procedures} />
      )}
    </Fetched>
  );
}

/** useFresh fetches the problem and its data anew once the page that was left has kept its last change, and says when that is done. */
function useFresh(id: string): boolean {
  const client = useQueryClient();
  const [done, setDone] = useState("");
  useEffect(() => {
    let here = true;
    const fetchAll = async () => {
      await leftKept(`settings:${id}`);
      const { data_set } = await client.fetchQuery({ ...problemQuery(id), staleTime: 0 });
      await leftKept(`data:${data_set}`);
      await client.fetchQuery({ ...dataSetQuery(data_set), staleTime: 0 });
    };
    fetchAll()
      .catch(() => {}) // the query itself says what went wrong
      .finally(() => here && setDone(id));
    return () => {
      here = false;
    };
  }, [id, client]);
  return done === id;
}

interface EditorProps {
  problem: Problem;
  held: HeldSet;
  procedures: Description[];
}

function Editor({ problem, held, procedures }: EditorProps) {
  const state = useDraftState(problem, held, procedures);
  const navigate = useNavigate();
  const { keeping } = state.kept;
  const work = () => keeping.flush().then((kept) => kept && navigate(`/problems/${problem.id}`));
  useShortcuts([
    { key: "Ctrl+z", says: "Undo", act: keeping.undo },
    { key: "Ctrl+y", says: "Redo", act: keeping.redo },
    { key: "w", says: "Work the problem", act: work },
  ]);
  const title = state.draft.title || "Untitled problem";
  return (
    <Shell title={title}>
      <DraftProvider value={state}>
        <form
          className="mx-auto grid w-full max-w-6xl gap-x-12 px-8 py-6 max-sm:px-4 lg:grid-cols-[minmax(0,1fr)_18rem]"
          onSubmit={(event) => {
            event.preventDefault();
            work();
          }}
        >
          <ol>
            <Section number={1} title="Question">
              <QuestionFields />
              <ClaimFields />
            </Section>
            <Section number={2} title="Data">
              <DataFields />
            </Section>
            <Section number={3} title="What is compared">
              <RoleFields />
            </Section>
            <Section number={4} title="The test">
              <TestFields />
            </Section>
            <Section number={5} title="Worked by oneself" last>
              <TryFields />
            </Section>
          </ol>
          <StatusPanel onWork={work} />
        </form>
      </DraftProvider>
    </Shell>
  );
}

import { Link } from "react-router";
import type { Problem } from "../api/types";
import { upperFirst } from "../lib/words";

/** Unfinished says what a problem still needs before it can be worked, which its owner can give it. */
export function Unfinished({ problem }: { problem: Problem }) {
  return (
    <div className="mx-auto max-w-xl px-6 py-16">
      <h1 className="font-serif font-semibold text-[1.7rem]">Not ready to be worked yet</h1>
      <ul className="mt-4 grid gap-2">
        {problem.mistakes.map((mistake) => (
          <li key={mistake.pointer + mistake.says} className="border-region border-l-2 pl-3">
            {upperFirst(mistake.says)}
            {mistake.instead && <span className="text-muted">: {mistake.instead}.</span>}
          </li>
        ))}
      </ul>
      {!problem.shared && (
        <Link to={`/problems/${problem.id}/edit`} className="btn btn-primary mt-6">
          Go on with it
        </Link>
      )}
    </div>
  );
}

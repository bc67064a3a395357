import { useQuery } from "@tanstack/react-query";
import { useId } from "react";
import { RequestError } from "../api/client";
import type { Power, PowerAt, PowerBlock, PowerInput, PowerQuestion } from "../api/types";
import { FigureView } from "../figures/FigureView";
import { readNumber, writeNumber } from "../lib/number";
import { useRemembered } from "../lib/remembered";
import { upperFirst, whole } from "../lib/words";
import { useSolution } from "../solution/solution";

/** What a person typed, by input; the power that is asked for is “target”. */
type Typed = Record<string, string>;

/** PowerView answers how large a sample the test needs, where something stated is true. */
export function PowerView({ block }: { block: PowerBlock }) {
  const { power } = useSolution();
  return power ? <Asking block={block} ask={power.ask} name={power.name} /> : null;
}

interface AskingProps {
  block: PowerBlock;
  ask: NonNullable<ReturnType<typeof useSolution>["power"]>["ask"];
  name: string;
}

function Asking({ block, ask, name }: AskingProps) {
  const [open, setOpen] = useRemembered(`${name}.open`, false);
  const [typed, setTyped] = useRemembered<Typed>(`${name}.typed`, {});
  const text = (id: string, value: number) => typed[id] ?? writeNumber(value);
  const wrong = (id: string) => typed[id] !== undefined && !Number.isFinite(readNumber(typed[id]));
  const { data, error, isFetching } = useQuery({ ...ask(questionOf(block, typed)), enabled: open });
  const type = (id: string, value: string) => setTyped({ ...typed, [id]: value });
  const mistakes = error instanceof RequestError ? error.mistakes : [];
  const mistakeAt = (id: string) => {
    if (wrong(id)) return "A number is needed here.";
    const mistake = mistakes.find((each) => each.pointer.endsWith(`/${id}`));
    return mistake && `${upperFirst(mistake.says)}: ${mistake.instead}.`;
  };
  return (
    <section
      aria-label="How large a sample?"
      className="screen-only rounded-box border border-base-300 bg-sheet px-4 py-3"
    >
      <h3 className="font-semibold">How large a sample?</h3>
      <p className="mt-0.5">
        How often would a test like this one find what is really there, and how many cases would it take?
      </p>
      {!open && (
        <button type="button" className="act mt-2" onClick={() => setOpen(true)}>
          Say what is true
        </button>
      )}
      {open && (
        <>
          <div className="mt-2.5 grid grid-cols-[repeat(auto-fill,minmax(11.5rem,1fr))] gap-x-5 gap-y-2.5">
            {block.inputs.map((input) => (
              <NumberField
                key={input.id}
                input={input}
                text={text(input.id, input.value)}
                mistake={mistakeAt(input.id)}
                onType={(value) => type(input.id, value)}
              />
            ))}
            <NumberField
              input={{ id: "target", label: "Power that is wanted", value: block.target, above: 0, below: 1 }}
              text={text("target", block.target)}
              mistake={mistakeAt("target")}
              onType={(value) => type("target", value)}
            />
          </div>
          {Object.keys(typed).length > 0 && (
            <button type="button" className="act mt-2" onClick={() => setTyped({})}>
              Back to the first numbers
            </button>
          )}
          {error && mistakes.length === 0 && (
            <p role="alert" className="mt-2 text-(--region-text)">
              {error.message}
            </p>
          )}
          {!data && !error && <p role="status">Calculating …</p>}
          {data && <Answer power={data} stale={isFetching || error !== null} />}
          <p className="mt-2 flex">
            <button type="button" className="act" onClick={() => setOpen(false)}>
              Close
            </button>
          </p>
        </>
      )}
    </section>
  );
}

/** questionOf asks with the numbers that were typed; what is no number is not sent. */
function questionOf(block: PowerBlock, typed: Typed): PowerQuestion {
  const question: PowerQuestion = { inputs: {} };
  for (const { id } of block.inputs) {
    const value = readNumber(typed[id] ?? "");
    if (Number.isFinite(value)) question.inputs[id] = value;
  }
  const target = readNumber(typed.target ?? "");
  if (Number.isFinite(target)) question.target = target;
  return question;
}

interface NumberFieldProps {
  input: PowerInput;
  text: string;
  mistake: string | undefined;
  onType: (text: string) => void;
}

function NumberField({ input, text, mistake, onType }: NumberFieldProps) {
  const id = useId();
  return (
    <div className="flex flex-col justify-end gap-0.5">
      <label htmlFor={id} className="text-muted leading-tight">
        {input.label}
      </label>
      <span className="flex items-center gap-2">
        <input
          id={id}
          className="input input-sm w-24 bg-base-100 text-ink aria-invalid:border-region"
          inputMode="decimal"
          autoComplete="off"
          aria-invalid={mistake !== undefined}
          aria-describedby={`${id}-note`}
          value={text}
          onChange={(event) => onType(event.target.value)}
        />
        {input.unit}
      </span>
      <span id={`${id}-note`} className="text-(--region-text)">
        {mistake}
      </span>
    </div>
  );
}

function Answer({ power, stale }: { power: Power; stale: boolean }) {
  return (
    <div className={stale ? "opacity-60" : ""} data-testid="power">
      <div className="mt-3 grid grid-cols-2 gap-3 border-base-300 border-t pt-2.5 max-sm:grid-cols-1">
        <Outcome head={`Power with ${casesOf(power.present)}`} number={power.present.shown} />
        <Outcome
          head={`Cases for a power of ${power.target}`}
          number={power.needed ? whole(power.needed.n) : "none"}
          more={power.needed?.sizes}
        />
      </div>
      <p className="mt-1.5">{power.says}</p>
      {!power.needed && <p className="mt-1">{power.needs}</p>}
      <div className="mt-2">{power.figure && <FigureView figure={power.figure} width={470} />}</div>
      <p className="text-muted">{power.basis}</p>
      <p className="mt-2 border-region border-l-2 pl-3 text-muted">
        <strong className="text-(--region-text)">Not to be misread.</strong> State what would matter, before looking,
        not what was observed: the power at the observed value says the same as p, in other words.
      </p>
    </div>
  );
}

function Outcome({ head, number, more }: { head: string; number: string; more?: string }) {
  return (
    <div>
      <p className="text-[0.86rem] text-muted">{head}</p>
      <p className="font-semibold font-serif text-[1.5rem] leading-tight">
        {number} {more && <span className="ml-1.5 font-normal text-[1rem] text-muted">{more}</span>}
      </p>
    </div>
  );
}

const casesOf = (at: PowerAt): string => `${whole(at.n)} ${at.n === 1 ? "case" : "cases"}`;

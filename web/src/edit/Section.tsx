interface Props {
  number: number;
  title: string;
  children: React.ReactNode;
  last?: boolean;
}

/** Section is a part of the form on the same thread as a solution's steps. */
export function Section({ number, title, children, last = false }: Props) {
  return (
    <li className="grid grid-cols-[1.9rem_minmax(0,1fr)]">
      <div className="relative flex justify-center">
        {!last && <span className="absolute inset-y-0 w-0.5 bg-base-300" aria-hidden="true" />}
        <span
          aria-hidden="true"
          className="relative mt-1 flex size-[1.85rem] items-center justify-center rounded-full border-2 border-base-300 bg-base-100 font-semibold text-[0.86rem] text-muted"
        >
          {number}
        </span>
      </div>
      <section className="min-w-0 pb-8 pl-4" aria-labelledby={`section-${number}`}>
        <h2 id={`section-${number}`} className="mb-3 pt-1 font-semibold text-[1.2rem]">
          {title}
        </h2>
        <div className="grid grid-cols-1 gap-4">{children}</div>
      </section>
    </li>
  );
}

/** Row is a line of the thread: what is written in the margin, the mark on the line, and what is said beside it. */
export function Row({
  margin,
  mark,
  children,
}: {
  margin?: React.ReactNode;
  mark: React.ReactNode;
  children: React.ReactNode;
}) {
  return (
    <div className="group/row grid grid-cols-[14.5rem_1.9rem_minmax(0,1fr)] max-sm:grid-cols-[1.9rem_minmax(0,1fr)]">
      <div className="pt-1 pr-2.5 text-right max-sm:col-start-2 max-sm:row-start-1 max-sm:pl-3.5 max-sm:text-left">
        {margin}
      </div>
      <div className="relative flex items-start justify-center pt-2 max-sm:col-start-1 max-sm:row-span-2 max-sm:row-start-1">
        <span className="absolute inset-y-0 w-0.5 bg-base-300" aria-hidden="true" />
        {mark}
      </div>
      <div className="min-w-0 pt-2 pb-2.5 pl-3.5 max-sm:col-start-2 max-sm:row-start-2 max-sm:pt-0.5">{children}</div>
    </div>
  );
}

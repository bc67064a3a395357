/** StepMark is a step's number on the thread, filled for the one in hand. */
export function StepMark({ number, inHand }: { number: number; inHand: boolean }) {
  return (
    <div className="relative flex justify-center">
      <span className="absolute inset-y-0 w-0.5 bg-base-300" aria-hidden="true" />
      <span
        aria-hidden="true"
        className={`moves relative mt-[0.95rem] flex size-[1.85rem] items-center justify-center rounded-full border-2 font-semibold text-[0.86rem] ${
          inHand ? "border-primary bg-primary text-primary-content" : "border-base-300 bg-base-100 text-muted"
        }`}
      >
        {number}
      </span>
    </div>
  );
}

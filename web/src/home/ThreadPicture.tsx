const keys = [
  ["question", "α = 0.05"],
  ["look", "12.38, 13.57 min"],
  ["hypotheses", "μ_M = μ_Q"],
  ["conditions", "met"],
  ["statistic", "t = −2.064"],
  ["critical value", "±2.116"],
  ["p-value", "p = 0.0553"],
  ["decision", "do not reject"],
  ["conclusion", "the sentence"],
] as const;

/** ThreadPicture shows what a worked problem looks like: a thread with a key result at each step. */
export function ThreadPicture() {
  return (
    <div className="rounded-box border border-base-300 bg-base-200 px-7 py-8">
      <ol className="relative grid gap-5 border-base-300 border-l-2 pl-7">
        {keys.map(([step, key], i) => (
          <li key={step} className="relative">
            <span
              className={`absolute top-1 -left-[2.23rem] size-3.5 rounded-full border-2 ${i === 4 ? "border-primary bg-primary" : "border-base-300 bg-base-100"}`}
            />
            <span className="block text-[0.88rem] text-muted">{step}</span>
            <span className="font-serif text-[1.15rem]">
              {key.includes("_") ? (
                <i>
                  μ<sub>M</sub> = μ<sub>Q</sub>
                </i>
              ) : (
                key
              )}
            </span>
          </li>
        ))}
      </ol>
    </div>
  );
}

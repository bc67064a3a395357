/** The parts of a box, from left to right, on a scale of its own. */
const parts = [
  { at: 24, label: "a case beyond the whiskers,", more: "with its number", above: true },
  { at: 84, label: "last case within", more: "1½ box lengths", above: false },
  { at: 150, label: "lower quartile", above: true },
  { at: 196, label: "median", above: false },
  { at: 222, label: "mean", above: true },
  { at: 268, label: "upper quartile", above: false },
  { at: 330, label: "last case within", more: "1½ box lengths", above: true },
];

const middle = 74;

/** BoxParts labels the parts of a box. */
export function BoxParts() {
  return (
    <svg
      viewBox="0 0 372 150"
      className="block h-auto w-full font-sans"
      role="img"
      aria-label="A box with its parts labelled: the box from the lower to the upper quartile holds the middle half of the cases, the thick line in it is the median, the ring the mean; the whiskers end at the last case within one and a half box lengths, and a case beyond stands apart with its number."
    >
      <g stroke="var(--ink)" strokeWidth="1.5" fill="none">
        <line x1="84" x2="150" y1={middle} y2={middle} />
        <line x1="268" x2="330" y1={middle} y2={middle} />
        <rect x="150" y={middle - 12} width="118" height="24" rx="1.5" fill="var(--color-base-100)" />
        <line x1="196" x2="196" y1={middle - 12} y2={middle + 12} strokeWidth="4" />
        <circle cx="222" cy={middle} r="4" strokeWidth="1.8" fill="var(--color-base-100)" />
        <circle cx="24" cy={middle} r="4" />
      </g>
      <text x="34" y={middle + 4.5} className="text-[12px]" fill="var(--ink)">
        14
      </text>
      {parts.map((part) => {
        const way = part.above ? -1 : 1;
        const anchor = part.at < 60 ? "start" : part.at > 300 ? "end" : "middle";
        const x = anchor === "start" ? 4 : anchor === "end" ? 368 : part.at;
        const y = middle + way * 36;
        const lines = part.more ? [part.label, part.more] : [part.label];
        return (
          <g key={part.at}>
            <line
              x1={part.at}
              x2={part.at}
              y1={middle + way * 15}
              y2={middle + way * 28}
              stroke="var(--color-neutral)"
              strokeWidth="1"
            />
            <text textAnchor={anchor} className="text-[12px]" fill="var(--muted)">
              {lines.map((line, i) => (
                <tspan key={line} x={x} y={part.above ? y - 14 * (lines.length - 1 - i) : y + 6 + 14 * i}>
                  {line}
                </tspan>
              ))}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

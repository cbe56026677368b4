/** A part's mark: a square, or a diamond where it is below the rule or unknown; filled where it is the weakest. */
import type { Rung } from "../api/types";
import { digits } from "../ui/format";

/** "8.7 : 1", or why there is none. */
export const ratio = (rung: Rung) =>
  rung.margin ? `${digits(rung.margin.low)} : 1` : rung.verdict === "unknown" ? "unknown" : "not rated";

export const isDoubtful = (rung: Rung) => rung.verdict === "below" || rung.verdict === "unknown";

/** About the middle of a drawing of the given size; `reach`: from there to a diamond's tip. */
export function RungMark({
  rung,
  weakest,
  at,
  reach,
}: {
  rung: Rung;
  weakest: boolean;
  at: { x: number; y: number };
  reach: number;
}) {
  const { x, y } = at;
  if (isDoubtful(rung))
    return (
      <path
        d={`M${x} ${y - reach} l${reach} ${reach} l${-reach} ${reach} l${-reach} ${-reach} Z`}
        fill={weakest ? "var(--over)" : "var(--sheet)"}
        stroke="var(--over)"
        strokeWidth={2.5}
      />
    );
  const half = 0.7 * reach;
  return (
    <rect
      x={x - half}
      y={y - half}
      width={2 * half}
      height={2 * half}
      fill={weakest ? "var(--ink)" : "var(--sheet)"}
      stroke="var(--ink)"
      strokeWidth={2.5}
    />
  );
}

/** A plan as small as a stamp: its ground, where its anchors are, where its load is. */
import type { PlanRow, Point } from "../../api/types";

const [WIDTH, HEIGHT, ROOM] = [112, 56, 5];

export function PlanSketch({ sketch }: { sketch: PlanRow["sketch"] }) {
  const { ground, anchors, load } = sketch;
  const all = [...ground, ...anchors, load];
  const [xs, zs] = [all.map((one) => one.x_m), all.map((one) => one.z_m)];
  const [left, top] = [Math.min(...xs), Math.max(...zs)];
  const per = Math.min(
    (WIDTH - 2 * ROOM) / Math.max(1, Math.max(...xs) - left),
    (HEIGHT - 2 * ROOM) / Math.max(1, top - Math.min(...zs)),
  );
  const at = ({ x_m, z_m }: Point) => ({ x: ROOM + (x_m - left) * per, y: ROOM + (top - z_m) * per });
  const [lies, first] = [at(load), anchors[0] ? at(anchors[0]) : null];
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full" aria-hidden>
      <polyline
        points={ground
          .map(at)
          .map(({ x, y }) => `${x},${y}`)
          .join(" ")}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.5}
      />
      {first ? <line x1={first.x} y1={first.y} x2={lies.x} y2={lies.y} stroke="var(--over)" strokeWidth={1.5} /> : null}
      {anchors.map(at).map(({ x, y }) => (
        <circle key={`${x},${y}`} cx={x} cy={y} r={2.5} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.5} />
      ))}
      <path
        d={`M${lies.x - 6} ${lies.y - 3} h12 l-2 6 h-8 Z`}
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth={1.5}
      />
    </svg>
  );
}

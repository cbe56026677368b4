/** What a feature is, drawn as itself: from above and from the side, in ink. Sizes in pixels. */
import type { ReactNode } from "react";

const INK = { fill: "var(--sheet)", stroke: "var(--ink)", strokeWidth: 2 };
const FINE = { fill: "none", stroke: "var(--ink)", strokeWidth: 1.5 };

/** From above, round (x, y); `r` is its own radius to scale, never drawn smaller than can be seen. */
export function FromAbove({ kind, x, y, r }: { kind: string; x: number; y: number; r: number }): ReactNode {
  const size = Math.max(8, r);
  if (kind === "tree")
    return (
      <g>
        <path d={crown(x, y, size + 14)} fill="none" stroke="var(--quiet)" strokeWidth={1.2} strokeDasharray="3 4" />
        <circle cx={x} cy={y} r={size} {...INK} />
        <circle cx={x} cy={y} r={size * 0.6} {...FINE} strokeWidth={1} />
        <circle cx={x} cy={y} r={size * 0.25} {...FINE} strokeWidth={1} />
      </g>
    );
  if (kind === "boulder") {
    const s = Math.max(14, r);
    return (
      <g>
        <path
          d={`M${x - s} ${y + s * 0.2} L${x - s * 0.6} ${y - s * 0.7} L${x + s * 0.2} ${y - s * 0.9} L${x + s} ${y - s * 0.2} L${x + s * 0.7} ${y + s * 0.8} L${x - s * 0.4} ${y + s * 0.9} Z`}
          {...INK}
        />
        <path
          d={`M${x - s * 0.6} ${y - s * 0.7} L${x - s * 0.1} ${y - s * 0.1} L${x + s} ${y - s * 0.2} M${x - s * 0.1} ${y - s * 0.1} L${x - s * 0.4} ${y + s * 0.9}`}
          {...FINE}
          strokeWidth={1}
        />
      </g>
    );
  }
  if (kind === "vehicle")
    return (
      <g>
        <rect x={x - 11} y={y - 22} width={22} height={44} rx={4} {...INK} />
        <path
          d={`M${x - 11} ${y - 10} H${x + 11} M${x - 15} ${y - 16} v9 M${x + 15} ${y - 16} v9 M${x - 15} ${y + 8} v9 M${x + 15} ${y + 8} v9`}
          {...FINE}
          strokeWidth={3}
        />
      </g>
    );
  if (kind === "structure")
    return (
      <g>
        <rect x={x - 12} y={y - 12} width={24} height={24} {...INK} />
        <path
          d={`M${x - 8} ${y - 8} H${x + 8} M${x} ${y - 8} V${y + 8} M${x - 8} ${y + 8} H${x + 8}`}
          {...FINE}
          strokeWidth={3}
        />
      </g>
    );
  if (kind === "bolt")
    return (
      <g>
        <circle cx={x} cy={y} r={9} {...INK} />
        <circle cx={x} cy={y} r={3.5} fill="var(--ink)" />
      </g>
    );
  if (kind === "picket")
    return (
      <g>
        <path d={`M${x - 20} ${y} H${x}`} {...FINE} strokeDasharray="3 3" />
        {[0, -10, -20].map((back) => (
          <circle key={back} cx={x + back} cy={y} r={5} {...INK} />
        ))}
      </g>
    );
  if (kind === "deadman" || kind === "snow-deadman")
    return (
      <g>
        <rect x={x - 6} y={y - 18} width={12} height={36} {...INK} />
        <path
          d={`M${x - 6} ${y - 10} l12 -8 M${x - 6} ${y} l12 -8 M${x - 6} ${y + 10} l12 -8 M${x - 6} ${y + 18} l12 -8`}
          {...FINE}
          strokeWidth={kind === "deadman" ? 1.5 : 0.6}
        />
      </g>
    );
  if (kind === "snow-picket")
    return <path d={`M${x - 8} ${y - 10} L${x + 6} ${y} L${x - 8} ${y + 10}`} {...INK} fill="none" strokeWidth={4} />;
  if (kind === "ice-axe")
    return (
      <path d={`M${x} ${y - 14} V${y + 14} M${x} ${y} h5 a4 4 0 0 1 0 8 h-5`} {...INK} fill="none" strokeWidth={3} />
    );
  if (kind === "person")
    return (
      <g>
        <ellipse cx={x} cy={y} rx={8} ry={15} {...INK} />
        <circle cx={x} cy={y} r={6.5} {...INK} />
      </g>
    );
  return <path d={`M${x} ${y - 12} L${x + 12} ${y} L${x} ${y + 12} L${x - 12} ${y} Z`} {...INK} />;
}

function crown(x: number, y: number, r: number): string {
  const points = Array.from({ length: 9 }, (_, index) => {
    const angle = (index / 9) * 2 * Math.PI;
    const wobble = r * (index % 2 ? 0.82 : 1);
    return `${x + wobble * Math.cos(angle)} ${y + wobble * Math.sin(angle)}`;
  });
  return `M${points.join(" L")} Z`;
}

/** From the side: tied at (x, y), standing on the ground at `foot`. */
export function FromTheSide({
  kind,
  x,
  y,
  foot,
  tall,
}: {
  kind: string;
  x: number;
  y: number;
  foot: number;
  tall: number;
}): ReactNode {
  const base = Math.max(foot, y + 5);
  if (kind === "tree")
    return (
      <path
        d={`M${x - 9} ${base} C${x - 4} ${y - 10} ${x - 5} ${y - tall} ${x - 4} ${y - tall} H${x + 4} C${x + 5} ${y - tall} ${x + 4} ${y - 10} ${x + 9} ${base}`}
        {...INK}
      />
    );
  if (kind === "boulder") return <path d={`M${x - 20} ${base} l5 -24 l16 -7 l16 13 l3 18 Z`} {...INK} />;
  if (kind === "vehicle")
    return (
      <g>
        <path d={`M${x - 14} ${base - 6} v-12 h8 l4 -9 h14 v21 Z`} {...INK} />
        <circle cx={x - 7} cy={base - 4} r={4.5} {...INK} />
        <circle cx={x + 7} cy={base - 4} r={4.5} {...INK} />
      </g>
    );
  if (kind === "deadman" || kind === "snow-deadman")
    return <rect x={x - 10} y={base + 4} width={20} height={8} {...INK} strokeDasharray="4 2" />;
  if (kind === "person")
    return (
      <g>
        <path d={`M${x - 6} ${base} L${x - 2} ${base - 16} L${x + 7} ${base - 4}`} {...FINE} strokeWidth={3} />
        <circle cx={x - 4} cy={base - 21} r={5} {...INK} />
      </g>
    );
  if (kind === "picket" || kind === "snow-picket" || kind === "ice-axe")
    return (
      <path d={`M${x + 3} ${base + 12} L${x - 5} ${Math.min(y, base - 12)}`} stroke="var(--ink)" strokeWidth={5} />
    );
  return (
    <rect x={x - 5} y={Math.min(y - 8, base - 18)} width={10} height={base - Math.min(y - 8, base - 18)} {...INK} />
  );
}

/** What a drill shows: a rig or anchor as lines between named places, a strip of readings, a knot. */
import type { DrillShown } from "../../api/types";
import { KnotDrawing } from "../../drawing/KnotDrawing";
import { useSettings } from "../../ui/settings";
import { unitOf } from "../../ui/format";

export function Shown({ shown }: { shown: DrillShown }) {
  const [{ night }] = useSettings();
  if (shown.strands.length)
    return (
      <div className="h-72">
        <KnotDrawing
          strands={shown.strands}
          whole={shown.strands}
          mirrored={shown.mirrored}
          behind={shown.behind}
          night={night}
          label="The knot as it was tied; turn it with the finger or the arrow keys"
        />
      </div>
    );
  return shown.strip.length ? <Strip shown={shown} /> : <Lines shown={shown} />;
}

const WIDE = 640;
const HIGH = 250;
const EDGE = 44;

function Lines({ shown }: { shown: DrillShown }) {
  const points = shown.spots.map((one) => [one.x, one.y] as const);
  const [left, right] = span(points.map(([x]) => x));
  const [low, high] = span(points.map(([, y]) => y));
  const across = (x: number) => 110 + ((x - left) / (right - left)) * (WIDE - 220);
  const up = (y: number) => HIGH - EDGE - ((y - low) / (high - low)) * (HIGH - 2 * EDGE);
  const at = ([x, y]: number[]) => `${across(x!).toFixed(1)},${up(y!).toFixed(1)}`;
  const named = shown.spots.filter((one) => one.name);
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className="w-full bg-ground" role="img" aria-label="As it is rigged">
      {shown.laid.map((one) => (
        <polyline
          key={one.id}
          points={one.points.map(at).join(" ")}
          className={`fill-none ${one.cord ? "stroke-quiet" : "stroke-ink"}`}
          strokeWidth={one.cord ? 2 : 4}
          strokeDasharray={one.slack ? "9 7" : undefined}
        />
      ))}
      {named.map((one, number) => {
        const [x, y] = [across(one.x), up(one.y)];
        const taken = named.slice(0, number).some((other) => near(x, y, across(other.x), up(other.y)));
        return (
          <g key={one.id}>
            <Mark kind={one.kind} x={x} y={y} />
            <text
              x={x}
              y={taken ? y + 27 : y - 13}
              textAnchor={x < 110 ? "end" : x > WIDE - 110 ? "start" : "middle"}
              dx={x < 110 ? -12 : x > WIDE - 110 ? 12 : 0}
              className="fill-ink font-label text-[15px] font-semibold"
            >
              {one.name}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** Two places whose names would lie on each other. */
function near(x: number, y: number, otherX: number, otherY: number): boolean {
  return Math.abs(x - otherX) < 90 && Math.abs(y - otherY) < 22;
}

function span(values: number[]): [number, number] {
  const low = Math.min(...values);
  const high = Math.max(...values);
  return high - low < 1e-6 ? [low - 1, high + 1] : [low, high];
}

function Mark({ kind, x, y }: { kind: string; x: number; y: number }) {
  if (kind === "load") return <rect x={x - 8} y={y - 8} width={16} height={16} className="fill-ink" />;
  if (kind === "anchor" || kind === "leg")
    return <rect x={x - 8} y={y - 8} width={16} height={16} className="fill-sheet stroke-ink" strokeWidth={3} />;
  if (kind === "hands") return <circle cx={x} cy={y} r={9} className="fill-over" />;
  if (kind === "edge") return <path d={`M${x - 8} ${y + 12} L${x} ${y} L${x + 8} ${y + 12} Z`} className="fill-line" />;
  return <circle cx={x} cy={y} r={8} className="fill-sheet stroke-ink" strokeWidth={3} />;
}

function Strip({ shown }: { shown: DrillShown }) {
  const [settings] = useSettings();
  const { name, si } = unitOf("N", settings);
  const [, until] = span(shown.strip.map((one) => one[0]!));
  const most = 1.1 * Math.max(...shown.strip.map((one) => one[1]!), ...shown.band_n);
  const across = (seconds: number) => EDGE + (seconds / until) * (WIDE - EDGE - 12);
  const up = (newtons: number) => HIGH - 30 - (newtons / most) * (HIGH - 46);
  const marks = [0, 5, 10, 15, 20].filter((one) => one <= until);
  const levels = [0.25, 0.5, 0.75].map((one) => one * most);
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className="w-full bg-ground" role="img" aria-label="Strip of the load cell">
      <rect
        x={EDGE}
        width={WIDE - EDGE - 12}
        y={up(shown.band_n[1]!)}
        height={up(shown.band_n[0]!) - up(shown.band_n[1]!)}
        className="fill-tint"
      />
      {levels.map((one) => (
        <text key={one} x={EDGE - 6} y={up(one) + 5} textAnchor="end" className="fill-quiet font-label text-[14px]">
          {(one / si).toFixed(si >= 100 ? 1 : 0)}
        </text>
      ))}
      <text x={4} y={16} className="fill-quiet font-label text-[14px]">
        {name}
      </text>
      {marks.map((one) => (
        <text key={one} x={across(one)} y={HIGH - 9} textAnchor="middle" className="fill-quiet font-label text-[14px]">
          {one} s
        </text>
      ))}
      <polyline
        points={shown.strip.map((one) => `${across(one[0]!).toFixed(1)},${up(one[1]!).toFixed(1)}`).join(" ")}
        className="fill-none stroke-ink"
        strokeWidth={2}
      />
    </svg>
  );
}

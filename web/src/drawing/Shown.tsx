/** What a drill or the reference shows: a rig or anchor as lines between named places, a strip of readings, a knot. */
import type { DrillShown } from "../api/types";
import { KnotDrawing } from "./KnotDrawing";
import { useSize } from "./useSize";
import { useSettings } from "../ui/settings";
import { unitOf } from "../ui/format";

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

const HIGH = 250;
const EDGE = 44;
/** A name takes about so much on either side of its place. */
const NAME = 58;

function Lines({ shown }: { shown: DrillShown }) {
  const [ref, size] = useSize<HTMLDivElement>();
  const wide = Math.max(size.width, 200);
  const { across, up } = laidOut(shown, wide);
  const at = ([x, y]: number[]) => `${across(x!).toFixed(1)},${up(y!).toFixed(1)}`;
  return (
    <div ref={ref} className="bg-ground">
      <svg width="100%" height={HIGH} role="img" aria-label="As it is rigged">
        {shown.laid.map((one) => (
          <polyline
            key={one.id}
            points={one.points.map(at).join(" ")}
            className={`fill-none ${one.cord ? "stroke-quiet" : "stroke-ink"}`}
            strokeWidth={one.cord ? 2 : 4}
            strokeDasharray={one.slack ? "9 7" : undefined}
          />
        ))}
        {shown.spots
          .filter((one) => one.name)
          .map((one) => {
            const [x, y] = [across(one.x), up(one.y)];
            return (
              <g key={one.id}>
                <Mark kind={one.kind} x={x} y={y} />
                <text
                  x={one.name.length > 2 ? Math.min(Math.max(x, NAME), wide - NAME) : x + 20}
                  y={one.name.length > 2 ? y + (below(one, shown) ? 26 : -14) : y + 5}
                  textAnchor="middle"
                  className="fill-ink stroke-ground font-label text-[15px] font-semibold"
                  strokeWidth={5}
                  paintOrder="stroke"
                >
                  {one.name}
                </text>
              </g>
            );
          })}
      </svg>
    </div>
  );
}

/** Where things are drawn: to one scale both ways, or side by side in their order. */
function laidOut(shown: DrillShown, width: number) {
  const points = [...shown.spots.map((one) => [one.x, one.y]), ...shown.laid.flatMap((one) => one.points)];
  const [xs, ys] = [points.map((one) => one[0]!), points.map((one) => one[1]!)];
  const room = { x: width - 2 * NAME, y: HIGH - 2 * EDGE };
  if (shown.to_scale) {
    const [left, right] = span(xs);
    const [low, high] = span(ys);
    const scale = Math.min(room.x / (right - left), room.y / (high - low));
    const middle = { x: (left + right) / 2, y: (low + high) / 2 };
    return {
      across: (x: number) => width / 2 + (x - middle.x) * scale,
      up: (y: number) => HIGH / 2 - (y - middle.y) * scale,
    };
  }
  const [across, up] = [ranked(xs), ranked(ys)];
  return { across: (x: number) => NAME + across(x) * room.x, up: (y: number) => HIGH - EDGE - up(y) * room.y };
}

/** Values as shares of the way from the first to the last of them, each as far from the next as any. */
function ranked(values: number[]): (value: number) => number {
  const order = [...new Set(values.map((one) => one.toFixed(2)))].map(Number).sort((a, b) => a - b);
  return (value) => (order.length > 1 ? order.indexOf(Number(value.toFixed(2))) / (order.length - 1) : 0.5);
}

/** Names of what lies side by side stand above and below by turns. */
function below(spot: DrillShown["spots"][number], shown: DrillShown): boolean {
  const row = shown.spots
    .filter((one) => one.name && Math.abs(one.y - spot.y) < 0.05)
    .sort((a, b) => a.x - b.x)
    .map((one) => one.id);
  return row.length > 1 ? row.indexOf(spot.id) % 2 === 1 : spot.y < 0;
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
  const [ref, size] = useSize<HTMLDivElement>();
  const wide = Math.max(size.width, 200);
  const [, until] = span(shown.strip.map((one) => one[0]!));
  const most = 1.1 * Math.max(...shown.strip.map((one) => one[1]!), ...shown.band_n);
  const across = (seconds: number) => EDGE + (seconds / until) * (wide - EDGE - 12);
  const up = (newtons: number) => HIGH - 30 - (newtons / most) * (HIGH - 46);
  const marks = [0, 5, 10, 15, 20].filter((one) => one <= until);
  const levels = [0.25, 0.5, 0.75].map((one) => one * most);
  return (
    <div ref={ref} className="bg-ground">
      <svg width="100%" height={HIGH} role="img" aria-label="Strip of the load cell">
        <rect
          x={EDGE}
          width={wide - EDGE - 12}
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
          <text
            key={one}
            x={across(one)}
            y={HIGH - 9}
            textAnchor="middle"
            className="fill-quiet font-label text-[14px]"
          >
            {one} s
          </text>
        ))}
        <polyline
          points={shown.strip.map((one) => `${across(one[0]!).toFixed(1)},${up(one[1]!).toFixed(1)}`).join(" ")}
          className="fill-none stroke-ink"
          strokeWidth={2}
        />
      </svg>
    </div>
  );
}

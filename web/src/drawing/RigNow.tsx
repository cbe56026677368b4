/**
 * The rig as it stands after the step: every strand in a lane of its own, things in their order from the anchor to the
 * load, not to scale. What bears is overprinted, what is slack hangs dashed.
 */
import type { RigMark, Step, Stretch } from "../api/types";
import { useSize } from "./useSize";

const LEFT = 74;
const RIGHT = 60;
const LANE = 44;
const TOP = 40;
const TOUCH_M = 0.02;

interface Strand {
  /** Where it comes round from the lane before. */
  round: boolean;
  id: string;
  lane: number;
  from: number;
  to: number;
  of: Stretch;
}

/** Signed distance of a place from the working point along the line: the order of things, not their scale. */
function measure(step: Drawn, line: string) {
  const cord = step.stretches.find((one) => one.cord && one.id.replace("tie of ", "").startsWith(`${line}:`));
  const anchor = cord?.points.at(-1) ?? first(step.marks.filter((one) => one.kind === "anchor")) ?? [0, 0];
  const load = step.marks.find((one) => one.kind === "load");
  const [ox, oz] = anchor as [number, number];
  const straight = load ? Math.abs(load.x_m - ox) < 0.5 : false;
  return (x: number, z: number) => {
    const far = Math.hypot(x - ox, z - oz);
    const out = straight ? oz - z : x - ox;
    return far < TOUCH_M ? 0 : Math.sign(out || 1) * far;
  };
}

function first(marks: RigMark[]): [number, number] | null {
  const one = marks[0];
  return one ? [one.x_m, one.z_m] : null;
}

/** What of a step, or of a rig that was found, is drawn. */
export type Drawn = Pick<Step, "stretches" | "marks" | "holds">;

interface Props {
  step: Drawn;
  /** Where things can be touched: what is said of one, and which is chosen. */
  onTouch?: (id: string) => void;
  chosen?: string | null;
  /** Things that can be. */
  touchable?: Set<string>;
}

export function RigNow({ step, onTouch, chosen, touchable }: Props) {
  // The line that is worked on: that of the first rope.
  const line = step.stretches.find((one) => !one.cord)?.id.split(":")[0] ?? "main";
  const [ref, { width }] = useSize<HTMLDivElement>();
  const at = measure(step, line);
  const mine = (id: string) => id.replace("tie of ", "").startsWith(`${line}:`);
  const ropes = step.stretches.filter((one) => !one.cord && mine(one.id));
  const others = step.stretches.filter((one) => !one.cord && !mine(one.id));
  const cords = step.stretches.filter((one) => one.cord && mine(one.id));
  const strands = laid(ropes, at, 0);
  const lanes = strands.reduce((most, one) => Math.max(most, one.lane), 0) + 1;
  const beside = laid(others, at, lanes);
  const all = [...strands, ...beside];
  const places = [
    ...new Set([0, ...all.flatMap((one) => [one.from, one.to]).map((far) => Math.round(far * 50) / 50)]),
  ].sort((a, b) => a - b);
  const inner = Math.max(200, width - LEFT - RIGHT);
  const x = (far: number) => {
    const rounded = Math.round(far * 50) / 50;
    const index = places.findIndex((one) => Math.abs(one - rounded) < TOUCH_M);
    return LEFT + (inner * Math.max(0, index)) / Math.max(1, places.length - 1);
  };
  const y = (lane: number) => TOP + lane * LANE;
  const height = TOP + (all.reduce((most, one) => Math.max(most, one.lane), 0) + 1) * LANE + 20;
  const laneAt = (far: number, of: Strand[]) =>
    of.find((one) => Math.min(one.from, one.to) - TOUCH_M <= far && far <= Math.max(one.from, one.to) + TOUCH_M)
      ?.lane ?? 0;
  const marks = step.marks.filter(
    (one) => one.kind !== "edge" && one.kind !== "load" && (mine(one.id) || beside.length),
  );
  const seen = new Map<string, boolean>();
  const spots = marks.flatMap((one, index) => {
    const touched = Boolean(onTouch && touchable?.has(one.id));
    if ((one.kind === "anchor" || one.kind === "open") && !touched) return [];
    // Hands that hold nothing are no mark on the ground.
    if (one.kind === "open" && one.id.endsWith(":hands")) return [];
    const far = at(one.x_m, one.z_m);
    const rows = mine(one.id) ? strands : beside.filter((row) => row.of.id.startsWith(`${one.id.split(":")[0]}:`));
    const lane = laneAt(far, rows);
    // Two things in one place are drawn side by side.
    const spot = `${Math.round(x(far) / 8)},${lane}`;
    const twice = seen.has(spot);
    const above = twice ? !seen.get(spot) : index % 2 === 0;
    seen.set(spot, above);
    return [{ one, touched, above, mx: x(far) + (twice ? 40 : 0), my: y(lane) }];
  });
  // What is touched has as much room as lies between it and the next; each is a button below, too.
  const placed = spots.map((row) => {
    const near = spots.filter((other) => other !== row && Math.abs(other.my - row.my) < LANE);
    return { ...row, room: Math.min(56, ...near.map((other) => Math.abs(other.mx - row.mx))) };
  });
  return (
    <div ref={ref} className="w-full min-w-0 bg-film" data-testid="rig-now">
      <svg width={width} height={height} role="img" aria-label={spoken(step)}>
        <line x1={x(0)} x2={x(0)} y1={TOP - 22} y2={height - 8} stroke="var(--ink)" strokeWidth={5} />
        {step.marks
          .filter((one) => one.kind === "edge" && mine(one.id))
          .map((one) => {
            const ex = x(at(one.x_m, one.z_m));
            return (
              <g key={one.id}>
                <path d={`M ${ex} ${y(0) + 3} l -9 14 h 18 z`} fill="none" stroke="var(--ink)" strokeWidth={1.5} />
              </g>
            );
          })}
        {all.map((one) => (
          <StrandLine key={one.id} strand={one} x={x} y={y} />
        ))}
        {cords.map((one) => {
          const far = at(...(one.points[0] as [number, number]));
          const lane = laneAt(far, strands);
          const [cx, cy] = [x(far), y(lane)];
          return (
            <path
              key={one.id}
              d={`M ${cx} ${cy} Q ${(cx + x(0)) / 2} ${cy + (one.slack ? 26 : 12)} ${x(0)} ${cy + 4}`}
              fill="none"
              stroke={one.bears ? "var(--over)" : "var(--ink)"}
              strokeWidth={one.bears ? 3 : 1.3}
              strokeDasharray={one.slack ? "4 4" : undefined}
            />
          );
        })}
        {placed.map(({ one, touched, above, mx, my, room }) => {
          return (
            <g
              key={one.id}
              onClick={touched ? () => onTouch?.(one.id) : undefined}
              className={touched ? "cursor-pointer" : undefined}
              data-mark={one.id}
            >
              {touched ? (
                <rect
                  x={mx - room / 2}
                  y={my - 22}
                  width={room}
                  height={44}
                  rx={4}
                  fill={chosen === one.id ? "var(--tint)" : "transparent"}
                  stroke={chosen === one.id ? "var(--over)" : "var(--line)"}
                />
              ) : null}
              <Sign kind={one.kind} x={mx} y={my} bears={one.bears} />
              <text
                x={mx}
                y={above ? my - 13 : my + 25}
                textAnchor={mx > width - 70 ? "end" : "middle"}
                fontSize={15}
                fontWeight={one.bears ? 600 : 400}
                fill={one.bears ? "var(--over)" : "var(--ink)"}
                paintOrder="stroke"
                stroke="var(--film)"
                strokeWidth={4}
              >
                {one.name}
              </text>
            </g>
          );
        })}
        <text x={x(0) + 8} y={height - 10} fontSize={15} fill="var(--ink)">
          anchor
        </text>
        <text x={width - 6} y={y(0) - 12} textAnchor="end" fontSize={15} fontWeight={600} fill="var(--ink)">
          load
        </text>
        <rect x={x(places.at(-1) ?? 0) - 2} y={y(0) - 8} width={16} height={16} fill="var(--ink)" />
      </svg>
    </div>
  );
}

/** Pieces as strands: a rope that turns back goes on in the next lane. */
function laid(ropes: Stretch[], at: (x: number, z: number) => number, start: number): Strand[] {
  const found: Strand[] = [];
  let lane = start;
  let rope = "";
  let way = 0;
  for (const one of ropes) {
    const name = one.id.replace(/:\d+$/, "");
    if (name !== rope) {
      if (rope !== "") lane += 1;
      rope = name;
      way = 0;
    }
    one.points.slice(1).forEach((to, index) => {
      const [a, b] = [at(...(one.points[index] as [number, number])), at(...(to as [number, number]))];
      const turn = Math.sign(b - a);
      const round = way !== 0 && turn !== 0 && turn !== way;
      if (round) lane += 1;
      if (turn !== 0) way = turn;
      found.push({ round, id: `${one.id}/${index}`, lane, from: a, to: b, of: one });
    });
  }
  return found;
}

function StrandLine({ strand, x, y }: { strand: Strand; x: (far: number) => number; y: (lane: number) => number }) {
  const [a, b, h] = [x(strand.from), x(strand.to), y(strand.lane)];
  const sag = strand.of.slack ? 12 : 0;
  const before = y(strand.lane - 1);
  const bend = strand.round
    ? `M ${a} ${before} C ${a + (a > b ? 22 : -22)} ${before} ${a + (a > b ? 22 : -22)} ${h} ${a} ${h} `
    : "";
  return (
    <path
      d={sag ? `${bend}M ${a} ${h} Q ${(a + b) / 2} ${h + 2 * sag} ${b} ${h}` : `${bend}M ${a} ${h} L ${b} ${h}`}
      fill="none"
      stroke={strand.of.bears ? "var(--over)" : "var(--ink)"}
      strokeWidth={strand.of.bears ? 5 : 1.8}
      strokeDasharray={strand.of.slack ? "6 5" : undefined}
      strokeLinecap="round"
    />
  );
}

function Sign({ kind, x, y, bears }: { kind: RigMark["kind"]; x: number; y: number; bears: boolean }) {
  const stroke = bears ? "var(--over)" : "var(--ink)";
  const common = { fill: "var(--film)", stroke, strokeWidth: bears ? 3 : 2 };
  if (kind === "hitch") return <rect x={x - 13} y={y - 7} width={26} height={14} rx={6} {...common} />;
  if (kind === "device") return <rect x={x - 10} y={y - 10} width={20} height={20} {...common} />;
  if (kind === "hands")
    return <path d={`M ${x - 9} ${y} a 9 9 0 1 0 18 0 a 9 9 0 1 0 -18 0`} {...common} fill={stroke} />;
  return <circle cx={x} cy={y} r={8} {...common} />;
}

function spoken(step: Drawn): string {
  const { on_text, behind_text, hands_off_text } = step.holds;
  return `Holds on ${on_text.toLowerCase()}; behind it ${behind_text.toLowerCase()}; hands off: ${hands_off_text.toLowerCase()}`;
}

/** Ropes as drawn: width by tension, pattern by line, a slack one hanging, a running one with the way it goes. */
import type { LineReport, Spot as Place, StateReport, Strand } from "../api/types";
import type { Line as Solid, Spot } from "./labels";
import { ropeWidth } from "./marks";

export type Role = LineReport["role"];

/** Two ropes differ by pattern, never by hue. */
const PATTERN: Record<Role, string | undefined> = {
  main: undefined,
  belay: "18 5",
  second: "10 4 3 4",
  haul: "5 4",
};

export interface Stretch {
  id: string;
  line: LineReport;
  from: Place;
  to: Place;
  strand: Strand | null;
}

/** Stretches of every line's way in a state, working point outward, each with the strand that lies there. */
export function stretches(lines: LineReport[], state: StateReport | null): Stretch[] {
  return lines.flatMap((line) => {
    const count = line.way.length - 1;
    const redirects = count - line.turns.length - 1;
    const name = (index: number) =>
      index === count
        ? "load"
        : index <= redirects
          ? `${line.id}:redirect:${index}`
          : `${line.id}:edge:${index - redirects}`;
    const strands = state?.strands.filter((one) => one.line === line.id) ?? [];
    if (state?.available && !strands.length) return [];
    return Array.from({ length: count }, (_, index) => {
      const [near, far] = [index === 0 ? null : name(index), name(index + 1)];
      const found = strands.find(({ start, end }) => {
        const other = start === far ? end : end === far ? start : undefined;
        if (other === undefined) return false;
        return near === null
          ? other !== "load" && !other.includes(":edge:") && !other.includes(":redirect:")
          : other === near;
      });
      return {
        id: `${line.id}.${index}`,
        line,
        from: line.way[index]!,
        to: line.way[index + 1]!,
        strand: found ?? null,
      };
    });
  });
}

export function solids(all: Stretch[], at: (place: Place) => Spot): Solid[] {
  return all.map((one) => ({ id: one.id, a: at(one.from), b: at(one.to) }));
}

interface Props {
  a: Spot;
  b: Spot;
  role: Role;
  tension: number | null;
  slack: boolean;
  /** Which way rope goes: from a to b, back, or not at all. */
  runs: "" | "ahead" | "back";
  still?: boolean;
}

export function RopeLine({ a, b, role, tension, slack, runs, still }: Props) {
  const long = Math.hypot(b.x - a.x, b.y - a.y);
  if (slack || tension === null) {
    const sag = Math.min(22, long * 0.12);
    return (
      <path
        d={`M${a.x} ${a.y} Q${(a.x + b.x) / 2} ${(a.y + b.y) / 2 + sag} ${b.x} ${b.y}`}
        fill="none"
        stroke="var(--over)"
        strokeWidth={2}
        strokeDasharray="3 5"
      />
    );
  }
  return (
    <>
      <line
        x1={a.x}
        y1={a.y}
        x2={b.x}
        y2={b.y}
        stroke="var(--over)"
        strokeWidth={still ? 2.5 : ropeWidth(tension)}
        strokeDasharray={PATTERN[role]}
        strokeLinecap={PATTERN[role] ? "butt" : "round"}
      />
      {runs && long > 46 ? <Runs a={runs === "ahead" ? a : b} b={runs === "ahead" ? b : a} /> : null}
    </>
  );
}

/** A chevron that shows which way a rope runs. */
function Runs({ a, b }: { a: Spot; b: Spot }) {
  const angle = Math.atan2(b.y - a.y, b.x - a.x);
  const [x, y] = [a.x + (b.x - a.x) * 0.62, a.y + (b.y - a.y) * 0.62];
  const leg = (turn: number) => `${x - 13 * Math.cos(angle + turn)} ${y - 13 * Math.sin(angle + turn)}`;
  return (
    <path
      d={`M${leg(0.55)} L${x} ${y} L${leg(-0.55)}`}
      fill="none"
      stroke="var(--over)"
      strokeWidth={3.5}
      strokeLinejoin="round"
      data-runs
    />
  );
}

/** Which way the rope of a stretch runs, seen from its first point. */
export function runsOn(stretch: Stretch): "" | "ahead" | "back" {
  const { strand } = stretch;
  if (!strand || !strand.runs) return "";
  // A strand that starts at the load or further out lies against the stretch, which goes outward.
  const outward = strand.end === "load" || (strand.start !== "load" && isOuter(strand.end, strand.start));
  return (strand.runs === "to-end") === outward ? "ahead" : "back";
}

function isOuter(one: string, other: string): boolean {
  const number = (name: string) => (name.includes(":edge:") ? Number(name.split(":edge:")[1]!.split("/")[0]) : -1);
  return number(one) > number(other);
}

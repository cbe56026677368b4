/** Rigs that none betters in everything: the margin that each keeps, over the minutes that it takes; the rule as a line. */
import type { RigOffer } from "../api/types";
import { useSize } from "./useSize";

const LEFT = 56;
const RIGHT = 28;
const TOP = 34;
const BOTTOM = 46;
const HALF = 10;

interface Props {
  rigs: RigOffer[];
  chosen: string;
  onChoose: (letter: string) => void;
}

const sizeOf = (rig: RigOffer, goal: "margin" | "minutes") => rig.figures.find((one) => one.goal === goal)?.size ?? 0;

/** How many a rig takes to haul, beside its mark. */
const haulersOf = (rig: RigOffer) => rig.figures.find((one) => one.goal === "haulers")?.size.toFixed(0) ?? "";

/** A few round values between two. */
function ticks(low: number, high: number, count: number): number[] {
  const raw = (high - low) / count || 1;
  const power = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((one) => one * power).find((one) => one >= raw) ?? raw;
  const first = Math.ceil(low / step) * step;
  return Array.from({ length: Math.floor((high - first) / step + 1e-9) + 1 }, (_, n) => first + n * step);
}

export function FrontPlot({ rigs, chosen, onChoose }: Props) {
  const [ref, { width, height }] = useSize<HTMLDivElement>();
  const margins = rigs.map((one) => sizeOf(one, "margin"));
  const minutes = rigs.map((one) => sizeOf(one, "minutes"));
  const [low, high] = [0.95, Math.max(1.2, ...margins) * 1.06];
  const span = Math.max(10, Math.max(...minutes) - Math.min(...minutes));
  const [soon, late] = [Math.max(0, Math.min(...minutes) - span * 0.15), Math.max(...minutes) + span * 0.15];
  const x = (value: number) => LEFT + ((value - soon) / (late - soon)) * Math.max(10, width - LEFT - RIGHT);
  const y = (value: number) => TOP + (1 - (value - low) / (high - low)) * Math.max(10, height - TOP - BOTTOM);
  const spots = rigs.map((rig, n) => ({ rig, x: x(minutes[n]!), y: y(margins[n]!) }));
  return (
    <div ref={ref} className="h-full min-h-56 bg-ground">
      <svg width={width} height={height} role="group" aria-label="Margin over minutes">
        {ticks(low, high, 4).map((value) => (
          <text key={value} x={LEFT - 8} y={y(value) + 5} fontSize={14} textAnchor="end" fill="var(--quiet)">
            {value.toFixed(1)}
          </text>
        ))}
        {ticks(soon, late, width < 500 ? 4 : 7).map((value) => (
          <text key={value} x={x(value)} y={height - BOTTOM + 20} fontSize={14} textAnchor="middle" fill="var(--quiet)">
            {value.toFixed(0)}
          </text>
        ))}
        <path
          d={`M${LEFT} ${TOP - 14} V${height - BOTTOM} H${width - RIGHT}`}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={1.5}
        />
        <text x={LEFT + 8} y={TOP - 10} fontSize={15} fill="var(--ink)">
          weakest margin, times the rule; under each: how many haul
        </text>
        <text x={width - RIGHT} y={height - 8} fontSize={15} textAnchor="end" fill="var(--ink)">
          minutes to set up and haul
        </text>
        <line
          x1={LEFT}
          x2={width - RIGHT}
          y1={y(1)}
          y2={y(1)}
          stroke="var(--over)"
          strokeWidth={2}
          strokeDasharray="3 5"
        />
        <text x={width - RIGHT} y={y(1) + 18} fontSize={15} textAnchor="end" fill="var(--over)">
          your rule
        </text>
        {spots.map(({ rig, x: at, y: up }) => (
          <g
            key={rig.letter}
            role="button"
            tabIndex={0}
            aria-pressed={rig.letter === chosen}
            aria-label={`Rig ${rig.letter}: ${rig.text}`}
            className="cursor-pointer"
            onClick={() => onChoose(rig.letter)}
            onKeyDown={(event) => {
              if (event.key === "Enter" || event.key === " ") onChoose(rig.letter);
            }}
          >
            <rect x={at - 22} y={up - 22} width={44} height={44} fill="transparent" className="focus-ring" />
            <rect
              x={at - HALF}
              y={up - HALF}
              width={2 * HALF}
              height={2 * HALF}
              fill={rig.letter === chosen ? "var(--over)" : "var(--sheet)"}
              stroke="var(--over)"
              strokeWidth={3}
            />
          </g>
        ))}
        {spots.map(({ rig, x: at, y: up }) => (
          <g key={rig.letter} aria-hidden className="pointer-events-none">
            <text x={at} y={up - 17} fontSize={17} fontWeight={600} textAnchor="middle" fill="var(--ink)">
              {rig.letter}
            </text>
            <text x={at} y={up + 27} fontSize={14} textAnchor="middle" fill="var(--quiet)">
              {haulersOf(rig)}
            </text>
          </g>
        ))}
      </svg>
    </div>
  );
}

/** The run from left to right on one line of time: sections as they were worked, stops, alarms, decisions, how high the load was, what each
 * cell read against its band. */
import { memo } from "react";
import type { DebriefCell, Entry } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { useSize } from "../../drawing/useSize";
import { unitOf } from "../../ui/format";
import type { Whole } from "./useDebrief";

const HEIGHT = 96;
const LOAD_PX = 58;
/** A letter of the drawing's type is no wider. */
const LETTER_PX = 7.2;
/** Times are written no nearer to each other. */
const [TIME_PX, TIMES_MIN] = [84, [5, 10, 15, 20, 30, 60, 120, 240, 720]];
const MARKS: Partial<Record<Entry["kind"], string>> = {
  stop: "◆",
  alarm: "◆",
  decision: "■",
  correction: "□",
  contingency: "◇",
  plan: "▲",
  photo: "○",
  conflict: "◇",
};

const LOUD = new Set<Entry["kind"]>(["stop", "alarm"]);
const MARK_PX = 15;

/** Where entries are marked: stops and alarms in a row of their own, so that nothing covers them; of marks at one moment the first. */
function marked(entries: Entry[], x: (time: number) => number) {
  const last = new Map<boolean, number>();
  return entries.flatMap((entry) => {
    if (!MARKS[entry.kind]) return [];
    const [loud, spot] = [LOUD.has(entry.kind), x(Date.parse(entry.time))];
    if (spot - (last.get(loud) ?? -MARK_PX) < MARK_PX) return [];
    last.set(loud, spot);
    return [{ entry, x: spot, y: loud ? 42 : 60 }];
  });
}

interface Props {
  whole: Whole;
  at: number;
  onAt: (at: number) => void;
}

export function Timeline({ whole, at, onAt }: Props) {
  const [ref, { width }] = useSize<HTMLDivElement>();
  const { from, to, debrief } = whole;
  const x = (time: number) => ((time - from) / (to - from)) * width;
  const seconds = Math.round((to - from) / 1000);
  return (
    <div ref={ref} className="relative">
      <Sections whole={whole} width={width} />
      <Load whole={whole} width={width} />
      {debrief.cells.map((cell) => (
        <Chart key={cell.id} cell={cell} whole={whole} width={width} />
      ))}
      <div className="pointer-events-none absolute inset-y-0 w-0.5 bg-over" style={{ left: x(at) }} aria-hidden />
      <input
        type="range"
        // By half a bob wider on either side, so that the bob is on the line.
        className="way-slider -mx-3.5 w-[calc(100%+28px)] bg-size-[calc(100%-28px)_2px]"
        aria-label="Moment of the run"
        aria-valuetext={new Date(at).toLocaleTimeString([], { hour12: false })}
        min={0}
        max={seconds}
        value={Math.round((at - from) / 1000)}
        onChange={(event) => onAt(from + Number(event.target.value) * 1000)}
      />
      <Times whole={whole} width={width} />
    </div>
  );
}

const Sections = memo(function Sections({ whole, width }: { whole: Whole; width: number }) {
  const { from, to, debrief, entries } = whole;
  const x = (time: number) => ((time - from) / (to - from)) * width;
  const done = debrief.done.map((one) => ({ section: one.key.split("/")[0]!, at: Date.parse(one.at) }));
  const spans: { section: string; from: number; to: number }[] = [];
  for (const one of done) {
    const last = spans.at(-1);
    if (last?.section === one.section) last.to = one.at;
    else spans.push({ section: one.section, from: last?.to ?? from, to: one.at });
  }
  const name = (id: string) => debrief.operation.sections.find((one) => one.id === id)?.name ?? id;
  return (
    <svg
      width={width}
      height={64}
      className="block"
      role="img"
      aria-label={`${spans.length} sections of the run, and what was written`}
    >
      {spans.map((one, number) => (
        <g key={number}>
          <rect
            x={x(one.from)}
            y={4}
            width={Math.max(1, x(one.to) - x(one.from) - 1)}
            height={20}
            fill={number % 2 ? "var(--ground)" : "var(--line)"}
          />
          {x(one.to) - x(one.from) > 10 + LETTER_PX * name(one.section).length ? (
            <text x={x(one.from) + 4} y={19} fontSize={14} fill="var(--ink)">
              {name(one.section)}
            </text>
          ) : null}
        </g>
      ))}
      {marked(entries, x).map(({ entry, x, y }) => (
        <text
          key={entry.id}
          x={x}
          y={y}
          fontSize={16}
          textAnchor="middle"
          fill={LOUD.has(entry.kind) ? "var(--over)" : "var(--ink)"}
        >
          {MARKS[entry.kind]}
        </text>
      ))}
    </svg>
  );
});

const Chart = memo(function Chart({ cell, whole, width }: { cell: DebriefCell; whole: Whole; width: number }) {
  const [settings] = useSettings();
  const { from, to, debrief } = whole;
  const { read } = cell;
  const { name: unit, si } = unitOf("N", settings);
  const x = (time: number) => ((time - from) / (to - from)) * width;
  const bands = Object.values(cell.bands);
  const most = 1.05 * Math.max(read.peak_n ?? 0, ...bands.map((one) => one.high), 1);
  const y = (force: number) => HEIGHT - 4 - (Math.max(force, 0) / most) * (HEIGHT - 10);
  const steps = [...debrief.done.map((one) => ({ key: one.key, to: Date.parse(one.at) }))];
  let before = from;
  const predicted = steps.map((one) => {
    const span = { band: cell.bands[one.key], from: before, to: one.to };
    before = one.to;
    return span;
  });
  const path = read.times_ms
    .map((time, index) => `${index ? "L" : "M"}${x(time).toFixed(1)} ${y(read.forces_n[index]!).toFixed(1)}`)
    .join("");
  return (
    <figure className="mt-1">
      <figcaption className="font-label text-quiet">
        {cell.name}, {cell.place_text}: peak {((read.peak_n ?? 0) / si).toFixed(2)} {unit}, {read.count} readings;
        hatched: worked out for each step
      </figcaption>
      <svg
        width={width}
        height={HEIGHT}
        className="block"
        role="img"
        aria-label={`${cell.name}: measured against predicted`}
      >
        <defs>
          <pattern
            id={`band-${cell.id}`}
            width="6"
            height="6"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <line x1="0" y1="0" x2="0" y2="6" stroke="var(--line)" strokeWidth="2" />
          </pattern>
        </defs>
        {predicted.map((one, number) =>
          one.band ? (
            <rect
              key={number}
              x={x(one.from)}
              y={y(one.band.high)}
              width={Math.max(0.5, x(one.to) - x(one.from))}
              height={Math.max(1, y(one.band.low) - y(one.band.high))}
              fill={`url(#band-${cell.id})`}
            />
          ) : null,
        )}
        <path d={path} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
      </svg>
    </figure>
  );
});

/** The time of day under the line. */
const Times = memo(function Times({ whole, width }: { whole: Whole; width: number }) {
  const { from, to } = whole;
  const most = Math.max(1, Math.floor(width / TIME_PX));
  const step = 60_000 * (TIMES_MIN.find((one) => (to - from) / (60_000 * one) <= most) ?? 1440);
  // Whole hours of the clock on the wall, not of the world's.
  const zone = new Date(from).getTimezoneOffset() * 60_000;
  const first = Math.ceil((from - zone) / step) * step + zone;
  const times = Array.from({ length: Math.max(0, Math.floor((to - first) / step) + 1) }, (_, n) => first + n * step);
  return (
    <svg width={width} height={18} className="block" aria-hidden>
      {times.map((time) => {
        const x = ((time - from) / (to - from)) * width;
        return (
          <text
            key={time}
            x={Math.min(Math.max(x, 18), width - 18)}
            y={13}
            fontSize={14}
            textAnchor="middle"
            fill="var(--quiet)"
          >
            {new Date(time).toLocaleTimeString([], { hour12: false, hour: "2-digit", minute: "2-digit" })}
          </text>
        );
      })}
    </svg>
  );
});

/** How high the load was, step by step. */
const Load = memo(function Load({ whole, width }: { whole: Whole; width: number }) {
  const [settings] = useSettings();
  const { from, to, debrief } = whole;
  const { name: unit, si } = unitOf("m", settings);
  // On the ground it hangs on nothing that could be drawn.
  const heights = new Map(
    debrief.operation.steps
      .filter((one) => !one.holds.grounded)
      .map((one) => [one.key, one.marks.find((mark) => mark.kind === "load")?.z_m]),
  );
  const rows = debrief.done.flatMap((one) => {
    const height = heights.get(one.key);
    return height === undefined ? [] : [{ at: Date.parse(one.at), height }];
  });
  if (rows.length < 2) return null;
  const [low, high] = [Math.min(...rows.map((one) => one.height)), Math.max(...rows.map((one) => one.height))];
  if (high - low < 0.1) return null;
  const x = (time: number) => ((time - from) / (to - from)) * width;
  const y = (height: number) => 4 + ((high - height) / (high - low)) * (LOAD_PX - 8);
  const path = rows
    .map((one, index) => `${index ? "L" : "M"}${x(one.at).toFixed(1)} ${y(one.height).toFixed(1)}`)
    .join("");
  const way = ((high - low) / si).toFixed(0);
  return (
    <figure className="mt-1">
      <figcaption className="font-label text-quiet">
        The load, {way} {unit} from lowest to highest
      </figcaption>
      <svg
        width={width}
        height={LOAD_PX}
        className="block"
        role="img"
        aria-label={`The load's height over the run: ${way} ${unit}`}
      >
        <path d={path} fill="none" stroke="var(--over)" strokeWidth="2.5" strokeLinejoin="round" />
      </svg>
    </figure>
  );
});

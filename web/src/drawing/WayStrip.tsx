/** A strip over the way: what each job asks at every place, as bands; what comes to what; where resets fall. */
import type { Band, Way, WayJob } from "../api/types";
import { useSettings } from "../ui/settings";
import { shown, unitOf } from "../ui/format";
import { placeLabels, textWidth } from "./labels";
import { useSize } from "./useSize";

const LEFT = 152;
const RIGHT = 92;
const ROW = 48;
const TOP = 6;
const EVENTS = 42;
/** What a leader reads off the way, in this order; the pull at the load is the hands' cause, not another answer. */
const ROWS: Record<WayJob["job"], Band["id"][]> = {
  raising: ["haulers", "margin", "working-point"],
  lowering: ["hand", "margin", "working-point"],
  crossing: ["tension", "margin", "clearance", "tag"],
};

interface Props {
  way: Way;
  job: WayJob;
  place: number;
  children: React.ReactNode;
}

interface Axis {
  x: (run: number) => number;
  width: number;
  left: number;
  right: number;
  narrow: boolean;
}

export function WayStrip({ way, job, place, children }: Props) {
  const [ref, { width }] = useSize<HTMLDivElement>();
  const first = way.places[0]?.run_m ?? 0;
  const far = way.places.at(-1)?.run_m ?? 1;
  const down = job.job === "lowering";
  // On a narrow screen a band's name stands above it, not beside it.
  const narrow = width < 560;
  const row = narrow ? 66 : job.job === "crossing" ? 42 : ROW;
  const [left, right] = narrow ? [20, 20] : [LEFT, RIGHT];
  const axis: Axis = {
    width,
    left,
    right,
    narrow,
    // Lowering runs from the edge on the left down to the right; raising from the load's start up to the edge.
    x: (run) => left + ((down ? far - run : run - first) / (far - first || 1)) * Math.max(10, width - left - right),
  };
  const rows = ROWS[job.job].flatMap((id) => job.bands.find((band) => band.id === id) ?? []);
  const events = job.job === "crossing" ? 10 : EVENTS;
  const height = TOP + rows.length * row + events;
  const here = axis.x(way.places[place]?.run_m ?? 0);
  return (
    <div ref={ref}>
      <svg width={width} height={height} role="img" aria-label={summary(job)}>
        {rows.map((band, index) => (
          <Row key={band.id} band={band} way={way} axis={axis} top={TOP + index * row} tall={row} />
        ))}
        {job.job === "crossing" ? null : <Events way={way} job={job} axis={axis} top={TOP + rows.length * row} />}
        {job.worst.slice(0, 1).map((worst) => (
          <path
            key={worst.text}
            d={`M${axis.x(worst.run_m)} ${TOP} l8 8 l-8 8 l-8 -8 Z`}
            fill="var(--over)"
            data-testid="worst-mark"
          />
        ))}
        <line x1={here} x2={here} y1={0} y2={height} stroke="var(--ink)" strokeWidth={2.5} />
      </svg>
      <div className="flex items-center font-label text-base">
        <span className="pl-4" style={{ width: narrow ? undefined : left - 14 }} aria-hidden>
          {down ? "edge" : job.job === "crossing" ? "near end" : "start"}
        </span>
        <div className="flex-1">{children}</div>
        <span className="pl-2" style={{ width: narrow ? undefined : right - 14 }} aria-hidden>
          {down ? "down" : job.job === "crossing" ? "far end" : "edge"}
        </span>
      </div>
    </div>
  );
}

function summary(job: WayJob): string {
  return `${job.name} along the whole way. ${job.worst.map((one) => one.text).join(". ")}.`;
}

function Row({ band, way, axis, top, tall }: { band: Band; way: Way; axis: Axis; top: number; tall: number }) {
  const [settings] = useSettings();
  const known = band.values.flatMap((value) => (value ? [value] : []));
  if (!known.length) return null;
  const margin = band.id === "margin";
  const limit = band.limit ?? null;
  const lows = [...known.map((one) => one.low), ...(limit === null ? [] : [limit])];
  const highs = [...known.map((one) => (margin ? one.low : one.high)), ...(limit === null ? [] : [limit])];
  const [least, most] = [margin ? Math.min(...lows) * 0.9 : 0, Math.max(...highs) * 1.08 || 1];
  const y = (value: number) =>
    top +
    (axis.narrow ? 26 : 8) +
    (1 - (Math.min(most, Math.max(least, value)) - least) / (most - least || 1)) * (tall - (axis.narrow ? 34 : 16));
  const spots = band.values.flatMap((value, index) => (value ? [{ x: axis.x(way.places[index]!.run_m), value }] : []));
  const line = spots.map(({ x, value }) => `${x},${y(margin ? value.low : value.expected)}`).join(" ");
  const upper = spots.map(({ x, value }) => `${x},${y(value.high)}`);
  const lower = spots.map(({ x, value }) => `${x},${y(value.low)}`).reverse();
  const { name } = unitOf(band.unit, settings);
  const written = (value: number) =>
    band.unit === "N" || band.unit === "m"
      ? shown({ low: value, expected: value, high: value, unit: band.unit }, settings).value
      : band.unit === "people"
        ? value.toFixed(0)
        : value.toFixed(1);
  const ends = [
    Math.max(...known.map((one) => (margin ? one.low : one.high))),
    Math.min(...known.map((one) => one.low)),
  ];
  const unit = band.unit === "N" || band.unit === "m" ? ` ${name}` : margin ? " : 1" : "";
  return (
    <g data-band={band.id}>
      <text x={16} y={top + 19} fontSize={16} fill="var(--ink)">
        {band.name}
      </text>
      <text
        x={axis.narrow ? axis.width - 12 : 16}
        y={top + (axis.narrow ? 19 : 37)}
        fontSize={15}
        textAnchor={axis.narrow ? "end" : "start"}
        fill="var(--over)"
      >
        {written(ends[1]!)} to {written(ends[0]!)}
        {unit}
      </text>
      <line x1={axis.left} x2={axis.width - axis.right} y1={top + tall - 4} y2={top + tall - 4} stroke="var(--line)" />
      {margin ? null : <polygon points={[...upper, ...lower].join(" ")} fill="var(--over)" opacity={0.18} />}
      <polyline points={line} fill="none" stroke="var(--over)" strokeWidth={2.5} />
      {limit === null ? null : (
        <>
          <line
            x1={axis.left}
            x2={axis.width - axis.right}
            y1={y(limit)}
            y2={y(limit)}
            stroke="var(--ink)"
            strokeWidth={1.5}
            strokeDasharray="2 4"
          />
          <text
            x={axis.narrow ? axis.width - 14 : axis.width - axis.right + 8}
            y={axis.narrow ? y(limit) - 4 : y(limit) + 5}
            fontSize={15}
            textAnchor={axis.narrow ? "end" : "start"}
            fill="var(--ink)"
          >
            {margin
              ? `your ${limit} : 1`
              : band.unit === "people"
                ? `${limit} there`
                : `${written(limit)}${unit} least`}
          </text>
        </>
      )}
    </g>
  );
}

function Events({ way, job, axis, top }: { way: Way; job: WayJob; axis: Axis; top: number }) {
  const mine = way.events.filter((event) => event.job === job.job);
  const loud = mine.filter((event) => event.kind !== "reset");
  const names = loud.map((event) => SHORT[event.kind]);
  const labels = placeLabels(
    loud.map((event, index) => ({
      id: `${index}`,
      width: textWidth(names[index]!, 15),
      height: 17,
      spots: [6, -6, 6, -6].map((off, turn) => ({
        x: axis.x(event.run_m) + off + (off > 0 ? 0.5 : -0.5) * textWidth(names[index]!, 15),
        y: top + (turn < 2 ? 12 : 0),
      })),
    })),
    { x: axis.left, y: top - 8, width: axis.width - axis.left, height: 40 },
  );
  return (
    <g>
      <text x={16} y={top + 34} fontSize={16} fill="var(--ink)">
        {job.job === "raising" ? `resets, ${mine.length - loud.length}` : ""}
      </text>
      <line
        x1={axis.left}
        x2={axis.width - axis.right}
        y1={top + 30}
        y2={top + 30}
        stroke="var(--ink)"
        strokeWidth={1.5}
      />
      {mine.map((event, index) => (
        <line
          key={index}
          x1={axis.x(event.run_m)}
          x2={axis.x(event.run_m)}
          y1={event.kind === "reset" ? top + 23 : TOP}
          y2={top + 37}
          stroke={event.kind === "reset" ? "var(--ink)" : "var(--over)"}
          strokeWidth={2}
          strokeDasharray={event.kind === "reset" ? undefined : "6 4"}
          data-event={event.kind}
        />
      ))}
      {[...labels].map(([id, box]) => (
        <text key={id} x={box.x} y={box.y + 14} fontSize={15} fontWeight={600} fill="var(--over)">
          {names[Number(id)]}
        </text>
      ))}
    </g>
  );
}

const SHORT: Record<Way["events"][number]["kind"], string> = {
  join: "join",
  damage: "knot",
  reset: "",
  "rope-end": "rope ends",
};

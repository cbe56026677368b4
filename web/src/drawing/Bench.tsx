/** The bench: where advantage becomes visible, strand by strand and bend by bend. */
import { useMemo } from "react";
import type { Crossing, StateReport, Strand } from "../api/types";
import { useSettings } from "../ui/settings";
import { shown } from "../ui/format";
import { fixed, layOut, type BenchLayout, type BendSpot, type LaneRun } from "./benchLayout";
import { BendMark, ropeWidth, Tag, tagWidth, Touch } from "./marks";
import { useSize } from "./useSize";

interface Props {
  state: StateReport;
  line: string;
  anchorName: string;
  onCrossing: (crossing: Crossing) => void;
  onStrand: (strand: Strand) => void;
  /** Strands laid so far, where the rope is led step by step; the others are only hinted at. */
  laid?: Set<string> | null;
}

const LEFT = 196;
const RIGHT = 84;
const LANE = 42;
const HALO = { stroke: "var(--sheet)", strokeWidth: 4, paintOrder: "stroke" } as const;

export function Bench({ state, line, anchorName, onCrossing, onStrand, laid = null }: Props) {
  const [ref, { width, height }] = useSize<HTMLDivElement>();
  const [settings] = useSettings();
  const layout = useMemo(() => layOut(state, line), [state, line]);
  const needed = layout.lanes * LANE + 36;
  const gap = Math.min(54, Math.max(LANE, (height - 44) / Math.max(1, layout.lanes)));
  const floor = Math.max(30, (height - (layout.lanes - 1) * gap) / 2);
  const laneY = (lane: number) => height - floor - lane * gap;
  const place = useMemo(() => placing(layout, width), [layout, width]);
  const force = (strand: Strand) => (strand.tension ? shown(strand.tension, settings).value : "slack");
  return (
    <div ref={ref} className="relative flex-1 overflow-hidden" style={{ minHeight: needed }}>
      <svg width={width} height={height} className="absolute inset-0" role="group" aria-label="Bench">
        <AnchorPost x={LEFT} top={laneY(layout.lanes - 1) - 12} bottom={laneY(0) + 14} name={anchorName} />
        {layout.runs.map((run) => (
          <Lane
            key={`${run.strands[0]?.id}`}
            run={run}
            y={laneY(run.lane)}
            place={place}
            onStrand={onStrand}
            onCrossing={onCrossing}
            force={force}
            hitched={(node) => layout.nodes.get(node)?.kind === "grab"}
            laid={laid}
          />
        ))}
        {layout.bends.map((bend) => (
          <Bend
            key={bend.crossing.id}
            bend={bend}
            gripLane={layout.ends.find((end) => end.node === bend.node)?.lane ?? 0}
            layoutY={laneY}
            place={place}
            layout={layout}
            onOpen={() => onCrossing(bend.crossing)}
          />
        ))}
        {layout.ends.map((end, index) => (
          <End
            key={index}
            node={end.node}
            x={place(end.node)}
            y={laneY(end.lane)}
            lowest={end.lane === 0}
            layout={layout}
            state={state}
          />
        ))}
      </svg>
    </div>
  );
}

/** Horizontal place of each node: the haul zone to scale, the edges and the load beyond it. */
function placing(layout: BenchLayout, width: number): (node: string) => number {
  const used = new Set(layout.runs.flatMap((run) => run.strands.flatMap((one) => [one.start, one.end])));
  const nodes = [...layout.nodes.values()].filter((node) => used.has(node.id));
  const edges = nodes.filter((node) => node.kind === "edge").length;
  const inner = nodes.filter((node) => node.kind === "block" || node.kind === "grab");
  const most = Math.max(1e-6, ...inner.map((node) => node.out_m));
  const zone = width - LEFT - RIGHT;
  const braked = inner.some((node) => node.id.endsWith(":device"));
  const moving = inner.some((node) => !fixed(node) && node.out_m > 1);
  const share = moving ? (edges ? 0.6 : 0.72) : Math.max(0.34, (braked ? 190 : 0) / zone);
  return (id) => {
    const node = layout.nodes.get(id);
    if (!node) return LEFT;
    if (node.kind === "load") return width - RIGHT;
    if (node.kind === "edge") {
      const number = Number(/:edge:(\d+)/.exec(id)?.[1] ?? 1);
      return LEFT + zone * (share + ((1 - share) * number) / (edges + 1));
    }
    if (id.includes(":haul:")) return LEFT + 10;
    if (node.kind === "hands") {
      const led = nodes.some((one) => one.id.includes(":haul:"));
      return led ? LEFT + zone * share * 0.55 : node.out_m > 1 ? LEFT + zone * share * 0.66 : LEFT;
    }
    // What sits close to the working point still wants room for its mark.
    // Set back behind the working point: behind its post, as far as the sheet lets it.
    if (node.out_m < -0.3) return LEFT - Math.min(96, 50 + (-node.out_m * zone * share) / most / 4);
    return LEFT + (node.out_m < 0.05 ? 0 : 74 + ((zone * share - 74) * Math.max(0, node.out_m)) / most);
  };
}

function AnchorPost({ x, top, bottom, name }: { x: number; top: number; bottom: number; name: string }) {
  return (
    <g>
      <path d={`M${x - 30} ${top} V${bottom}`} stroke="var(--ink)" strokeWidth={5} />
      <text x={x - 40} y={bottom} fontSize={15} textAnchor="end" fill="var(--ink)">
        {name}
      </text>
    </g>
  );
}

interface LaneProps {
  run: LaneRun;
  y: number;
  place: (node: string) => number;
  force: (strand: Strand) => string;
  hitched: (node: string) => boolean;
  laid: Set<string> | null;
  onStrand: (strand: Strand) => void;
  onCrossing: (crossing: Crossing) => void;
}

function Lane({ run, y, place, force, hitched, laid, onStrand, onCrossing }: LaneProps) {
  return (
    <g>
      {run.strands.map((strand) => {
        const [a, b] = [place(strand.start), place(strand.end)];
        const text = force(strand);
        const hitches = [strand.start, strand.end].filter(hitched).length;
        const roomy = Math.abs(a - b) > tagWidth(text) + 8 + 18 * hitches;
        return (
          <Touch
            key={strand.id}
            label={`Strand ${plain(strand.start)} to ${plain(strand.end)}, ${text}`}
            onOpen={() => onStrand(strand)}
          >
            <line x1={a} x2={b} y1={y} y2={y} stroke="transparent" strokeWidth={30} className="focus-ring" />
            <line
              x1={a}
              x2={b}
              y1={y}
              y2={y}
              opacity={laid && !laid.has(strand.id) ? 0.18 : undefined}
              stroke="var(--over)"
              strokeWidth={strand.tension ? ropeWidth(strand.tension.expected) : 2}
              strokeDasharray={strand.tension ? undefined : "3 5"}
              strokeLinecap={strand.tension ? "round" : "butt"}
            />
            {strand.runs && Math.abs(a - b) > 90 ? <Way a={a} b={b} y={y} ahead={strand.runs === "to-end"} /> : null}
            {roomy && !laid ? <Tag x={(a + b) / 2} y={y} text={text} /> : null}
          </Touch>
        );
      })}
      {run.edges.map((edge) => (
        <Touch key={edge.id} label={`Edge ${edge.name}`} onOpen={() => onCrossing(edge)}>
          <rect x={place(edge.node) - 22} y={y - 22} width={44} height={44} fill="transparent" className="focus-ring" />
          <path
            d={`M${place(edge.node) - 11} ${y + 14} L${place(edge.node)} ${y + 2} L${place(edge.node) + 11} ${y + 14} Z`}
            fill="var(--ground)"
            stroke="var(--ink)"
            strokeWidth={2}
          />
        </Touch>
      ))}
    </g>
  );
}

interface BendProps {
  bend: BendSpot;
  /** Lane of the rope that the node grips. */
  gripLane: number;
  layoutY: (lane: number) => number;
  place: (node: string) => number;
  layout: BenchLayout;
  onOpen: () => void;
}

function Bend({ bend, gripLane, layoutY, place, layout, onOpen }: BendProps) {
  const [settings] = useSettings();
  const { crossing, node, lanes } = bend;
  const x = place(node);
  const [low, high] = [layoutY(lanes[0]), layoutY(lanes[1])];
  const middle = (low + high) / 2;
  const radius = (low - high) / 2;
  const atAnchor = fixed(layout.nodes.get(node));
  // The bight bulges away from where its two strands go.
  const side = leadsRight(layout, node, place) ? -1 : 1;
  const cost = crossing.cost ? shown(crossing.cost, settings) : null;
  const atLoad = layout.nodes.get(node)?.kind === "load";
  const inside = side < 0 || atLoad;
  // Behind the post there is room for a word, not for a name.
  const behind = x < LEFT - 20;
  const line = {
    textAnchor: inside ? ("end" as const) : ("start" as const),
    x: inside ? x - (atLoad ? 24 : radius + 22) : x + radius + 22,
  };
  return (
    <>
      <Touch label={`${crossing.name} at ${plain(crossing.id)}`} onOpen={onOpen}>
        <rect
          x={inside ? x - 24 - 164 : x - 24}
          y={middle - 23}
          width={212}
          height={46}
          rx={4}
          fill="transparent"
          className="focus-ring"
        />
        {atAnchor ? <Stake x={x} y={middle} /> : null}
        {!atAnchor && !atLoad ? (
          <line
            x1={x}
            x2={x}
            y1={middle}
            y2={layoutY(gripLane)}
            stroke="var(--ink)"
            strokeWidth={2.5}
            strokeDasharray={Math.abs(lanes[0] - gripLane) > 1 ? "5 4" : undefined}
          />
        ) : null}
        <path
          d={`M${x} ${low} A${radius} ${radius} 0 0 ${side < 0 ? 1 : 0} ${x} ${high}`}
          fill="none"
          stroke="var(--over)"
          strokeWidth={5}
        />
        {atLoad ? <LoadMark x={x + 14} y={middle} /> : null}
        <BendMark x={x} y={middle} kind={crossing.role === "device" ? "carabiner" : crossing.kind} />
      </Touch>
      <g pointerEvents="none">
        {atLoad ? null : (
          <text {...line} {...HALO} y={middle - 2} fontSize={15} fill="var(--ink)">
            {behind ? `at ${plain(crossing.id)}` : shortName(crossing)}
          </text>
        )}
        <text {...line} {...HALO} y={middle + (atLoad ? 5 : 16)} fontSize={15} fill="var(--ink)">
          {crossing.role === "device"
            ? ""
            : crossing.role === "redirect"
              ? "redirect"
              : behind
                ? ""
                : `${atLoad ? `${shortName(crossing)} ` : ""}at ${plain(crossing.id)}`}
          {cost ? (
            <tspan fill="var(--over)">
              {behind ? `${cost.value} ${cost.unit}` : `, costs ${cost.value} ${cost.unit}`}
            </tspan>
          ) : null}
        </text>
      </g>
    </>
  );
}

/** What ties a node to the anchor: a line to the post, or, where it is set further out, a stake of its own. */
function Stake({ x, y }: { x: number; y: number }) {
  if (Math.abs(x - LEFT) < 40) return <line x1={LEFT - 30} x2={x} y1={y} y2={y} stroke="var(--ink)" strokeWidth={3} />;
  return <path d={`M${x} ${y} h22 m-4 -12 v24`} stroke="var(--ink)" strokeWidth={4} fill="none" />;
}

/** Whether the strands of a bend go off to its right. */
function leadsRight(layout: BenchLayout, node: string, place: (node: string) => number): boolean {
  const ends = layout.runs
    .flatMap((run) => run.strands)
    .filter((one) => one.start === node || one.end === node)
    .map((one) => place(one.start === node ? one.end : one.start));
  return ends.filter((x) => x > place(node)).length * 2 > ends.length;
}

/** A node's or bend's place without its line's name. */
function plain(id: string): string {
  const place = id.slice(id.indexOf(":") + 1);
  return place === "load" || !id.includes(":") ? id : place.replace("edge:", "edge ").replace("haul:", "redirect ");
}

/** Which way a strand runs. */
function Way({ a, b, y, ahead }: { a: number; b: number; y: number; ahead: boolean }) {
  const [from, to] = ahead ? [a, b] : [b, a];
  const x = from + (to - from) * 0.84;
  const back = to > from ? -11 : 11;
  return (
    <path
      d={`M${x + back} ${y - 8} L${x} ${y} L${x + back} ${y + 8}`}
      fill="none"
      stroke="var(--over)"
      strokeWidth={3.5}
    />
  );
}

function shortName(crossing: Crossing): string {
  return crossing.kind === "ball-bearing-pulley"
    ? "ball-bearing pulley"
    : crossing.name.toLowerCase().replace(" over a round-bar carabiner", "");
}

function End({
  node,
  x,
  y,
  lowest,
  layout,
  state,
}: {
  node: string;
  x: number;
  y: number;
  /** Under the lowest lane there is room for a name; under the others it goes above. */
  lowest: boolean;
  layout: BenchLayout;
  state: StateReport;
}) {
  const found = layout.nodes.get(node);
  if (!found) return null;
  const place = plain(node);
  if (found.kind === "hands")
    return (
      <People
        x={x}
        y={y}
        name={found.name}
        count={found.name.includes("haulers") ? 3 : 1}
        toRight={found.out_m > 0 || [...layout.nodes.keys()].some((one) => one.includes(":haul:"))}
      />
    );
  const marked = ["ratchet", "brake", "belay"].includes(place);
  if (found.kind === "grab" && !found.on)
    return (
      <g data-hitch={place}>
        {marked ? <line x1={x} x2={LEFT - 30} y1={y + 15} y2={y + 15} stroke="var(--ink)" strokeWidth={1.5} /> : null}
        <rect
          x={x - 16}
          y={y - 8}
          width={32}
          height={16}
          rx={8}
          fill="var(--sheet)"
          stroke="var(--ink)"
          strokeWidth={2.5}
        />
        {marked ? (
          <text x={x - 14} y={lowest ? y + 30 : y - 15} fontSize={15} fill="var(--ink)" {...HALO}>
            {place === "brake" ? "brake hitch" : place}
            {state.id === "raising" || state.id === "lowering" || state.id === "jammed" ? ", open" : ", set"}
          </text>
        ) : null}
      </g>
    );
  if (fixed(found))
    return (
      <g>
        <Stake x={x} y={y} />
        <rect x={x - 7} y={y - 7} width={14} height={14} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} />
        {place === "device" || place === "belay" ? (
          <text x={x - 12} y={y - 14} fontSize={15} fill="var(--ink)" {...HALO}>
            {found.name}
          </text>
        ) : null}
      </g>
    );
  return <LoadMark x={x} y={y} />;
}

function LoadMark({ x, y }: { x: number; y: number }) {
  return (
    <g>
      <path
        d={`M${x - 4} ${y} L${x + 8} ${y - 10} H${x + 62} L${x + 56} ${y + 12} H${x + 2} Z`}
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth={2.5}
      />
      <text x={x + 32} y={y + 6} fontSize={14} textAnchor="middle" fill="var(--ink)">
        load
      </text>
    </g>
  );
}

function People({
  x,
  y,
  name,
  count,
  toRight,
}: {
  x: number;
  y: number;
  name: string;
  count: number;
  toRight: boolean;
}) {
  return (
    <g pointerEvents="none">
      {Array.from({ length: count }, (_, one) => one).map((one) => (
        <g key={one} transform={`translate(${x + (toRight ? 12 : -12) * one} ${y})`}>
          <circle cy={-10} r={5} fill="var(--ink)" />
          <line y1={-6} y2={10} stroke="var(--ink)" strokeWidth={3} />
        </g>
      ))}
      <text
        x={x + (toRight ? 42 : -42)}
        y={y + 5}
        fontSize={15}
        textAnchor={toRight ? "start" : "end"}
        fill="var(--ink)"
      >
        {name}
      </text>
    </g>
  );
}

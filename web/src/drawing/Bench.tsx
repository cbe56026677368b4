/** The bench: where advantage becomes visible, strand by strand and bend by bend. */
import { useMemo } from "react";
import type { Crossing, PhaseReport, Strand } from "../api/types";
import { useSettings } from "../app/settings";
import { shown } from "../ui/format";
import { layOut, type BendSpot, type LaneRun } from "./benchLayout";
import { BendMark, ropeWidth, Tag, tagWidth, Touch } from "./marks";
import { useSize } from "./useSize";

interface Props {
  phase: PhaseReport;
  anchorName: string;
  handName: string;
  onCrossing: (crossing: Crossing) => void;
  onStrand: (strand: Strand) => void;
}

const LEFT = 196;
const RIGHT = 84;
const LANE = 42;
const HALO = { stroke: "var(--sheet)", strokeWidth: 4, paintOrder: "stroke" } as const;

export function Bench({ phase, anchorName, handName, onCrossing, onStrand }: Props) {
  const [ref, { width, height }] = useSize<HTMLDivElement>();
  const [settings] = useSettings();
  const layout = useMemo(() => layOut(phase), [phase]);
  const needed = layout.lanes * LANE + 36;
  const gap = Math.min(54, Math.max(LANE, (height - 44) / Math.max(1, layout.lanes)));
  const floor = Math.max(30, (height - (layout.lanes - 1) * gap) / 2);
  const laneY = (lane: number) => height - floor - lane * gap;
  const place = useMemo(() => placing(phase, width), [phase, width]);
  const force = (strand: Strand) => shown(strand.tension, settings).value;
  return (
    <div ref={ref} className="relative flex-1 overflow-hidden" style={{ minHeight: needed }}>
      <svg width={width} height={height} className="absolute inset-0" role="group" aria-label="Bench">
        <AnchorPost x={LEFT} top={laneY(layout.lanes - 1) - 12} bottom={laneY(0) + 14} name={anchorName} />
        {layout.runs.map((run) => (
          <Lane key={`${run.strands[0]?.id}`} run={run} y={laneY(run.lane)} place={place} onStrand={onStrand} onCrossing={onCrossing} force={force} />
        ))}
        {layout.bends.map((bend) => (
          <Bend key={bend.crossing.id} bend={bend} gripLane={layout.ends.find((end) => end.node === bend.node)?.lane ?? 0} layoutY={laneY} place={place} phase={phase} onOpen={() => onCrossing(bend.crossing)} />
        ))}
        {layout.ends.map((end, index) => (
          <End key={index} node={end.node} x={place(end.node)} y={laneY(end.lane)} phase={phase} handName={handName} />
        ))}
      </svg>
    </div>
  );
}

/** Horizontal place of each node: the haul zone to scale, the edges and the load beyond it. */
function placing(phase: PhaseReport, width: number): (node: string) => number {
  const nodes = new Map(phase.nodes.map((node) => [node.id, node]));
  const edges = phase.nodes.filter((node) => node.kind === "edge").length;
  const inner = phase.nodes.filter((node) => node.kind === "anchor" || node.kind === "moving");
  const most = Math.max(1e-6, ...inner.map((node) => node.out_m));
  const zone = width - LEFT - RIGHT;
  const share = inner.some((node) => node.kind === "moving") ? (edges ? 0.6 : 0.72) : 0.42;
  const hand = phase.nodes.find((node) => node.kind === "hand");
  return (id) => {
    const node = nodes.get(id);
    if (!node) return LEFT;
    if (node.kind === "load") return width - RIGHT;
    if (node.kind === "edge") return LEFT + zone * (share + ((1 - share) * Number(id.split(":")[1])) / (edges + 1));
    if (node.kind === "hand") return hand && hand.out_m > 100 ? LEFT + zone * share * 0.66 : LEFT + (hand && hand.out_m < -100 ? 124 : 0);
    return LEFT + (zone * share * node.out_m) / most;
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
  onStrand: (strand: Strand) => void;
  onCrossing: (crossing: Crossing) => void;
}

function Lane({ run, y, place, force, onStrand, onCrossing }: LaneProps) {
  return (
    <g>
      {run.strands.map((strand) => {
        const [a, b] = [place(strand.start), place(strand.end)];
        const text = force(strand);
        const roomy = Math.abs(a - b) > tagWidth(text) + 8;
        return (
          <Touch key={strand.id} label={`Strand ${strand.start} to ${strand.end}, ${text}`} onOpen={() => onStrand(strand)}>
            <line x1={a} x2={b} y1={y} y2={y} stroke="transparent" strokeWidth={30} className="focus-ring" />
            <line x1={a} x2={b} y1={y} y2={y} stroke="var(--over)" strokeWidth={ropeWidth(strand.tension.expected)} strokeLinecap="round" />
            {roomy ? <Tag x={(a + b) / 2} y={y} text={text} /> : null}
          </Touch>
        );
      })}
      {run.edges.map((edge) => (
        <Touch key={edge.id} label={`Edge ${edge.name}`} onOpen={() => onCrossing(edge)}>
          <rect x={place(edge.node) - 22} y={y - 22} width={44} height={44} fill="transparent" className="focus-ring" />
          <path d={`M${place(edge.node) - 11} ${y + 14} L${place(edge.node)} ${y + 2} L${place(edge.node) + 11} ${y + 14} Z`} fill="var(--ground)" stroke="var(--ink)" strokeWidth={2} />
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
  phase: PhaseReport;
  onOpen: () => void;
}

function Bend({ bend, gripLane, layoutY, place, phase, onOpen }: BendProps) {
  const [settings] = useSettings();
  const { crossing, node, lanes } = bend;
  const x = place(node);
  const [low, high] = [layoutY(lanes[0]), layoutY(lanes[1])];
  const middle = (low + high) / 2;
  const radius = (low - high) / 2;
  const atAnchor = phase.nodes.find((one) => one.id === node)?.kind === "anchor";
  // The bight bulges away from where its two strands go.
  const side = leadsRight(phase, node, place) ? -1 : 1;
  const cost = crossing.cost ? shown(crossing.cost, settings) : null;
  const atLoad = phase.nodes.find((one) => one.id === node)?.kind === "load";
  const inside = side < 0 || atLoad;
  const line = { textAnchor: inside ? ("end" as const) : ("start" as const), x: inside ? x - (atLoad ? 24 : radius + 22) : x + radius + 22 };
  return (
    <Touch label={`${crossing.name} at ${crossing.id}`} onOpen={onOpen}>
      <rect x={inside ? x - 24 - 164 : x - 24} y={middle - 23} width={212} height={46} rx={4} fill="transparent" className="focus-ring" />
      {atAnchor ? <Stake x={x} y={middle} /> : null}
      {!atAnchor && !atLoad ? <line x1={x} x2={x} y1={middle} y2={layoutY(gripLane)} stroke="var(--ink)" strokeWidth={2.5} strokeDasharray={Math.abs(lanes[0] - gripLane) > 1 ? "5 4" : undefined} /> : null}
      <path d={`M${x} ${low} A${radius} ${radius} 0 0 ${side < 0 ? 1 : 0} ${x} ${high}`} fill="none" stroke="var(--over)" strokeWidth={5} />
      {atLoad ? <LoadMark x={x + 14} y={middle} /> : null}
      <BendMark x={x} y={middle} kind={crossing.role === "device" ? "carabiner" : crossing.kind} />
      {atLoad ? null : (
        <text {...line} {...HALO} y={middle - 2} fontSize={15} fill="var(--ink)">
          {shortName(crossing)}
        </text>
      )}
      <text {...line} {...HALO} y={middle + (atLoad ? 5 : 16)} fontSize={15} fill="var(--ink)">
        {crossing.role === "device" ? "" : `${atLoad ? `${shortName(crossing)} ` : ""}at ${crossing.id}`}
        {cost ? <tspan fill="var(--over)">{`, costs ${cost.value} ${cost.unit}`}</tspan> : null}
      </text>
    </Touch>
  );
}

/** What ties a node to the anchor: a line to the post, or, where it is set further out, a stake of its own. */
function Stake({ x, y }: { x: number; y: number }) {
  if (Math.abs(x - LEFT) < 40) return <line x1={LEFT - 30} x2={x} y1={y} y2={y} stroke="var(--ink)" strokeWidth={3} />;
  return <path d={`M${x} ${y} h22 m-4 -12 v24`} stroke="var(--ink)" strokeWidth={4} fill="none" />;
}

/** Whether the strands of a bend go off to its right. */
function leadsRight(phase: PhaseReport, node: string, place: (node: string) => number): boolean {
  const ends = phase.strands.filter((one) => one.start === node || one.end === node).map((one) => place(one.start === node ? one.end : one.start));
  return ends.filter((x) => x > place(node)).length * 2 > ends.length;
}

function shortName(crossing: Crossing): string {
  return crossing.kind === "ball-bearing-pulley" ? "ball-bearing pulley" : crossing.name.toLowerCase().replace(" over a round-bar carabiner", "");
}

function End({ node, x, y, phase, handName }: { node: string; x: number; y: number; phase: PhaseReport; handName: string }) {
  const found = phase.nodes.find((one) => one.id === node);
  if (!found) return null;
  if (found.kind === "hand" && phase.phase === "hold")
    return (
      <g>
        <rect x={x - 34} y={y - 9} width={40} height={18} rx={9} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} />
        <text x={x} y={y - 16} fontSize={15} fill="var(--ink)" textAnchor="start">
          {handName}
        </text>
      </g>
    );
  if (found.kind === "hand") return <People x={x} y={y} name={handName} count={phase.phase === "lower" ? 1 : 3} toRight={found.out_m > 0} />;
  if (found.kind === "moving") return <rect x={x - 16} y={y - 8} width={32} height={16} rx={8} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} />;
  if (found.kind === "anchor")
    return (
      <g>
        <Stake x={x} y={y} />
        <rect x={x - 7} y={y - 7} width={14} height={14} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} />
      </g>
    );
  return <LoadMark x={x} y={y} />;
}

function LoadMark({ x, y }: { x: number; y: number }) {
  return (
    <g>
      <path d={`M${x - 4} ${y} L${x + 8} ${y - 10} H${x + 62} L${x + 56} ${y + 12} H${x + 2} Z`} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} />
      <text x={x + 32} y={y + 6} fontSize={14} textAnchor="middle" fill="var(--ink)">
        load
      </text>
    </g>
  );
}

function People({ x, y, name, count, toRight }: { x: number; y: number; name: string; count: number; toRight: boolean }) {
  return (
    <g>
      {Array.from({ length: count }, (_, one) => one).map((one) => (
        <g key={one} transform={`translate(${x + (toRight ? 12 : -12) * one} ${y})`}>
          <circle cy={-10} r={5} fill="var(--ink)" />
          <line y1={-6} y2={10} stroke="var(--ink)" strokeWidth={3} />
        </g>
      ))}
      <text x={x + (toRight ? 42 : -42)} y={y + 5} fontSize={15} textAnchor={toRight ? "start" : "end"} fill="var(--ink)">
        {name}
      </text>
    </g>
  );
}

/** The section along the fall line, to scale: what the ground gave in ink, what was computed overprinted. */
import { useMemo, useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Crossing, Document, PhaseReport, Point, Report, Strand } from "../api/types";
import { useSettings } from "../app/settings";
import { inUse, tiedTo } from "../plan/document";
import { degrees, digits, shown } from "../ui/format";
import { toReach } from "./dragging";
import { FromTheSide } from "./featureMarks";
import { placeLabels, textWidth, type Box, type Wanted } from "./labels";
import { ropeWidth, Tag, tagWidth, Touch } from "./marks";
import { Ground } from "./Ground";
import { Scalebar } from "./Scalebar";
import { useSize } from "./useSize";

interface Props {
  document: Document;
  report: Report | null;
  phase: PhaseReport | null;
  /** Whether ground and edges can be dragged too, not only the load. */
  shaping: boolean;
  canEdit: boolean;
  onEdit: (change: (document: Document) => Document) => void;
  onStrand: (strand: Strand) => void;
  onEdge: (crossing: Crossing) => void;
}

interface Spot {
  x: number;
  y: number;
}

interface Scale {
  at: (point: Point) => Spot;
  back: (spot: Spot) => Point;
  perMetre: number;
}

function fit(document: Document, width: number, height: number): Scale {
  const { profile, edges = [], load_at } = document.site;
  const tied = tiedTo(document, inUse(document));
  const xs = [...profile, ...edges, load_at, ...tied, { x_m: 0 }].map((point) => point.x_m);
  const zs = [...profile, ...edges, load_at, ...tied.map((one) => ({ z_m: (one.z_m ?? 0) + 3 })), { z_m: 2 }].map((point) => point.z_m);
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...zs), Math.max(...zs)];
  const perMetre = Math.min((width - 40) / Math.max(1, right - left), (height - 44) / Math.max(1, high - low));
  const shiftX = (width - perMetre * (right - left)) / 2;
  return {
    perMetre,
    at: ({ x_m, z_m }) => ({ x: shiftX + (x_m - left) * perMetre, y: 18 + (high - z_m) * perMetre }),
    back: ({ x, y }) => ({ x_m: left + (x - shiftX) / perMetre, z_m: high - (y - 18) / perMetre }),
  };
}

/** The point of the ground nearest to `aim`, in front of the working point. */
export function onGround(profile: Point[], aim: Point): Point {
  let best = { point: aim, apart: Infinity };
  for (const [index, a] of profile.entries()) {
    const b = profile[index + 1];
    if (!b) break;
    const [dx, dz] = [b.x_m - a.x_m, b.z_m - a.z_m];
    const share = Math.min(1, Math.max(0, ((aim.x_m - a.x_m) * dx + (aim.z_m - a.z_m) * dz) / (dx * dx + dz * dz || 1)));
    const point = { x_m: a.x_m + share * dx, z_m: a.z_m + share * dz };
    const apart = Math.hypot(point.x_m - aim.x_m, point.z_m - aim.z_m);
    if (point.x_m > 0.2 && apart < best.apart) best = { point, apart };
  }
  return best.point;
}

/** The strand that lies on each stretch of the rope's way, working point outward. */
function strandsOnWay(phase: PhaseReport, count: number): (Strand | undefined)[] {
  const name = (index: number) => (index === count ? "line:load" : `edge:${index}`);
  return Array.from({ length: count }, (_, index) => {
    const [near, far] = [index === 0 ? null : name(index), name(index + 1)];
    return phase.strands.find(({ start, end }) => {
      const other = start === far ? end : end === far ? start : undefined;
      return other !== undefined && (near === null ? !/^edge:|^line:load/.test(other) : other === near);
    });
  });
}

export function Section({ document, report, phase, shaping, canEdit, onEdit, onStrand, onEdge }: Props) {
  const [ref, { width, height }] = useSize<HTMLDivElement>();
  const [settings] = useSettings();
  const scale = useMemo(() => fit(document, width, height), [document, width, height]);
  const held = useRef<{ scale: Scale; move: (to: Point) => void } | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const live = held.current?.scale ?? scale;
  const { profile, edges = [], load_at } = document.site;
  const ground = profile.map((point) => live.at(point));
  const way = (report?.site.way ?? []).map((point) => live.at(point));
  const strands = phase && report ? strandsOnWay(phase, way.length - 1) : [];

  const start = (move: (to: Point) => void) => (event: PointerEvent) => {
    if (!canEdit) return;
    (event.target as Element).setPointerCapture(event.pointerId);
    held.current = { scale, move };
  };
  const drag = (event: PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!held.current || !box) return;
    held.current.move(held.current.scale.back({ x: event.clientX - box.left, y: event.clientY - box.top }));
  };
  const stop = () => {
    held.current = null;
  };

  const moveLoad = (to: Point) =>
    onEdit((old) => {
      const spot = onGround(old.site.profile, to);
      return { ...old, site: { ...old.site, load_at: { x_m: spot.x_m, z_m: spot.z_m } } };
    });
  const movePoint = (index: number, to: Point) =>
    onEdit((old) => {
      const points = old.site.profile.map((point, at) => (at === index ? { x_m: toReach(to.x_m), z_m: toReach(to.z_m) } : point));
      return { ...old, site: { ...old.site, profile: points } };
    });
  const moveEdge = (index: number, to: Point) =>
    onEdit((old) => {
      const moved = (old.site.edges ?? []).map((edge, at) => (at === index ? { ...edge, x_m: toReach(to.x_m), z_m: toReach(to.z_m) } : edge));
      return { ...old, site: { ...old.site, edges: moved } };
    });
  const arrows = (point: Point, move: (to: Point) => void) => (event: KeyboardEvent) => {
    const step = event.shiftKey ? 2 : 0.25;
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key];
    if (!by || !canEdit) return;
    event.preventDefault();
    move({ x_m: point.x_m + by[0]!, z_m: point.z_m + by[1]! });
  };

  const labels = useLabels(document, report, strands, way, live, { width, height });
  const load = live.at(load_at);
  const working = live.at(inUse(document).point);
  return (
    <div ref={ref} className="relative min-h-0 flex-1 overflow-hidden">
      <svg ref={svg} width={width} height={height} role="group" aria-label="Section along the fall line" onPointerMove={drag} onPointerUp={stop} onPointerCancel={stop} className="touch-none">
        <Ground line={ground} width={width} height={height} />
        {tiedTo(document, inUse(document)).map((feature) => {
          const spot = live.at({ x_m: feature.x_m, z_m: feature.z_m ?? 0 });
          return (
            <g key={feature.id} pointerEvents="none">
              <FromTheSide kind={feature.kind} {...spot} foot={screenGround(ground, spot.x)} tall={Math.max(30, 2.5 * live.perMetre)} />
              <line x1={spot.x} y1={spot.y} x2={working.x} y2={working.y} stroke="var(--ink)" strokeWidth={2} />
            </g>
          );
        })}
        {way.slice(1).map((spot, index) => {
          const from = way[index]!;
          const strand = strands[index];
          const line = { x1: from.x, y1: from.y, x2: spot.x, y2: spot.y };
          const drawn = <line {...line} stroke="var(--over)" strokeWidth={strand ? ropeWidth(strand.tension.expected) : 2.5} strokeLinecap="round" />;
          return strand ? (
            <Touch key={index} label={`Rope, stretch ${index + 1}, ${shown(strand.tension, settings).value} ${settings.force}`} onOpen={() => onStrand(strand)}>
              <line {...line} stroke="transparent" strokeWidth={24} className="focus-ring" />
              {drawn}
            </Touch>
          ) : (
            <g key={index}>{drawn}</g>
          );
        })}
        <circle cx={working.x} cy={working.y} r={6} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} />
        {report?.site.turns.map((turn) => {
          const spot = live.at(turn.at);
          const crossing = phase?.crossings.find((one) => one.id === turn.id);
          return (
            <Touch key={turn.id} label={`Edge ${turn.name}, rope turns ${degrees(turn.turn_rad)}`} onOpen={() => crossing && onEdge(crossing)}>
              <circle cx={spot.x} cy={spot.y} r={shaping ? 14 : reachOf(spot, report.site.turns.map((one) => live.at(one.at)))} fill="transparent" className="focus-ring" />
              {turn.entered ? <circle cx={spot.x} cy={spot.y} r={7} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} /> : <path d={`M${spot.x} ${spot.y - 9} l9 9 l-9 9 l-9 -9 Z`} fill="var(--sheet)" stroke="var(--over)" strokeWidth={2.5} />}
            </Touch>
          );
        })}
        {shaping && canEdit
          ? [
              ...profile.map((point, index) => ({ id: `ground ${index + 1}`, point, move: (to: Point) => movePoint(index, to), square: true })),
              ...edges.map((edge, index) => ({ id: `edge ${edge.name}`, point: edge as Point, move: (to: Point) => moveEdge(index, to), square: false })),
            ].map(({ id, point, move, square }) => {
              const spot = live.at(point);
              return (
                <g key={id} tabIndex={0} role="slider" aria-label={`Move ${id}`} aria-valuetext={`${point.x_m} m out, ${point.z_m} m high`} aria-valuenow={point.x_m} onKeyDown={arrows(point, move)} onPointerDown={start(move)} className="cursor-move">
                  <circle cx={spot.x} cy={spot.y} r={22} fill="transparent" className="focus-ring" />
                  {square ? <rect x={spot.x - 5} y={spot.y - 5} width={10} height={10} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2} /> : <circle cx={spot.x} cy={spot.y} r={7} fill="var(--ink)" />}
                </g>
              );
            })
          : null}
        <g tabIndex={0} role="slider" aria-label="Move the load along the ground" aria-valuetext={`${digits(load_at.x_m)} m out`} aria-valuenow={load_at.x_m} onKeyDown={arrows(load_at, moveLoad)} onPointerDown={start(moveLoad)} className="cursor-grab" data-testid="load">
          <circle cx={load.x} cy={load.y} r={26} fill="transparent" className="focus-ring" />
          <path d={`M${load.x - 22} ${load.y - 11} H${load.x + 22} L${load.x + 17} ${load.y + 3} H${load.x - 17} Z`} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} />
        </g>
        {report && way[1] ? <Drop top={way[1]} bottom={load} metres={report.site.drop_m} width={width} /> : null}
        <Scalebar perMetre={live.perMetre} height={height} />
        {labels}
      </svg>
    </div>
  );
}

function useLabels(document: Document, report: Report | null, strands: (Strand | undefined)[], way: Spot[], scale: Scale, size: { width: number; height: number }) {
  const [settings] = useSettings();
  return useMemo(() => {
    const wanted: Wanted[] = [];
    const texts = new Map<string, { text: string; tag: boolean; bold?: boolean }>();
    const want = (id: string, text: string, tag: boolean, at: Spot, spots: [number, number][], bold = false) => {
      texts.set(id, { text, tag, bold });
      const width = tag ? tagWidth(text) : textWidth(text, 15);
      wanted.push({ id, width, height: tag ? 24 : 19, spots: spots.map(([dx, dy]) => ({ x: at.x + Math.sign(dx) * (Math.abs(dx) + width / 2), y: at.y + dy })) });
    };
    const solid: Box[] = [];
    strands.forEach((strand, index) => {
      const [a, b] = [way[index], way[index + 1]];
      if (!strand || !a || !b) return;
      for (const share of [0.1, 0.3, 0.5, 0.7, 0.9]) solid.push({ x: a.x + (b.x - a.x) * share - 5, y: a.y + (b.y - a.y) * share - 5, width: 10, height: 10 });
      const { value, unit } = shown(strand.tension, settings);
      const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
      want(`t${index}`, `${value} ${unit}`, true, middle, [[14, -14], [12, -26], [22, -30], [-14, 22], [30, 4], [40, -44]]);
    });
    const used = inUse(document);
    const [back] = tiedTo(document, inUse(document));
    if (back) want("anchor", used.name, false, scale.at({ x_m: back.x_m, z_m: back.z_m ?? 0 }), [[16, -50], [16, -34], [-14, -40], [16, -66]]);
    if (size.height > 200) want("working", "working point", false, scale.at(used.point), [[10, -16], [-8, 22], [12, 24], [10, -34]]);
    for (const turn of report?.site.turns ?? [])
      want(turn.id, `${turn.name}, ${degrees(turn.turn_rad)}`, false, scale.at(turn.at), [[16, -10], [16, -28], [-14, 24], [18, 12], [-16, 44]]);
    const mass = report?.site.load_mass;
    const load = scale.at(document.site.load_at);
    want("load", mass ? `${Math.round(mass.expected)} kg${mass.low === mass.high ? "" : ` (${Math.round(mass.low)} to ${Math.round(mass.high)})`}` : "load", false, load, [[28, -6], [-28, 10], [-28, 26]], true);
    const placed = placeLabels(wanted, { x: 4, y: 4, width: size.width - 8, height: size.height - 8 }, solid);
    return [...placed].map(([id, box]) => {
      const { text, tag, bold } = texts.get(id)!;
      return tag ? (
        <Tag key={id} x={box.x + box.width / 2} y={box.y + 12} text={text} />
      ) : (
        <text key={id} x={box.x} y={box.y + 14} fontSize={15} fontWeight={bold ? 600 : 400} fill="var(--ink)" pointerEvents="none" stroke="var(--sheet)" strokeWidth={3} paintOrder="stroke">
          {text}
        </text>
      );
    });
  }, [document, report, strands, way, scale, size.width, size.height, settings]);
}

/** How far a finger may miss a corner: 22 pixels, less where the next one is near. */
function reachOf(spot: Spot, all: Spot[]): number {
  const apart = all.filter((one) => one !== spot).map((one) => Math.hypot(one.x - spot.x, one.y - spot.y)).filter((far) => far > 0);
  return Math.max(9, Math.min(22, ...apart.map((far) => far / 2)));
}

/** Height on the screen of the ground at a place on the screen. */
export function screenGround(ground: Spot[], x: number): number {
  const index = ground.findIndex((spot, at) => at > 0 && spot.x >= x);
  const [a, b] = [ground[index - 1], ground[index]];
  return a && b ? a.y + ((b.y - a.y) * (x - a.x)) / (b.x - a.x || 1) : 0;
}

/** Dimension line of the drop, clear of the load and its label. */
function Drop({ top, bottom, metres, width }: { top: Spot; bottom: Spot; metres: number; width: number }) {
  const [settings] = useSettings();
  const { value, unit } = shown({ low: metres, expected: metres, high: metres, unit: "m" }, settings);
  const x = bottom.x + 190;
  if (bottom.y - top.y < 50 || x > width - 60) return null;
  return (
    <g fill="none" stroke="var(--quiet)" strokeWidth={1.5} pointerEvents="none">
      <path d={`M${x - 7} ${top.y} h14 M${x} ${top.y} V${bottom.y} M${x - 7} ${bottom.y} h14`} />
      <text x={x + 12} y={(top.y + bottom.y) / 2 + 5} fontSize={15} stroke="none" fill="var(--ink)">
        {value} {unit} drop
      </text>
    </g>
  );
}

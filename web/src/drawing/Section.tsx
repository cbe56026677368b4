/** The section along the fall line, to scale: what the ground gave in ink, what was computed overprinted. */
import { useMemo, useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Crossing, Document, Gone, Point, Report, StateReport, Strand } from "../api/types";
import { useSettings } from "../ui/settings";
import { mainAnchor, taken, tiedTo } from "../plan/document";
import { degrees, digits, shown } from "../ui/format";
import { toReach } from "./dragging";
import { FromTheSide } from "./featureMarks";
import { Ground } from "./Ground";
import { Labels } from "./Labels";
import type { Spot } from "./labels";
import { Touch } from "./marks";
import { RopeLine, runsOn, solids, stretches } from "./ropes";
import { Scalebar } from "./Scalebar";
import { Drop, Dropped, Falls, HungSystem, Litter } from "./sectionLoad";
import { useSize } from "./useSize";
import { useView, WHOLE, type View } from "./useView";
import { Whereabouts } from "./Whereabouts";
import { marks, reachOf, usedAnchors, useSectionLabels, type Scale } from "./useSectionLabels";

interface Props {
  document: Document;
  report: Report | null;
  state: StateReport | null;
  /** A part taken away: where things then lie. */
  gone: Gone | null;
  /** Both ends of a tension line that is looked at: the load then hangs on it. */
  span: { x_m: number; z_m: number }[] | null;
  /** Whether ground and edges can be dragged too, not only the load. */
  shaping: boolean;
  canEdit: boolean;
  onEdit: (change: (document: Document) => Document) => void;
  onStrand: (strand: Strand) => void;
  onEdge: (crossing: Crossing) => void;
}

function fit(document: Document, width: number, height: number): Scale {
  const { profile, edges = [], load_at } = document.site;
  const points = document.anchors
    .map((anchor) => taken(anchor).point ?? {})
    .map(({ x_m = 0, z_m = 0 }) => ({ x_m, z_m }));
  const tied = tiedTo(document, taken(mainAnchor(document)));
  const xs = [...profile, ...edges, load_at, ...tied, ...points].map((point) => point.x_m);
  const zs = [
    ...[...profile, ...edges, load_at, ...points].map((point) => point.z_m),
    ...tied.map((one) => (one.z_m ?? 0) + 3),
    Math.max(...points.map((point) => point.z_m)) + 2,
  ];
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...zs), Math.max(...zs)];
  const perMetre = Math.min((width - 40) / Math.max(1, right - left), (height - 44) / Math.max(1, high - low));
  const shiftX = (width - perMetre * (right - left)) / 2;
  return {
    perMetre,
    at: ({ x_m, z_m }) => ({ x: shiftX + (x_m - left) * perMetre, y: 18 + (high - z_m) * perMetre }),
    back: ({ x, y }) => ({ x_m: left + (x - shiftX) / perMetre, z_m: high - (y - 18) / perMetre }),
  };
}

/** The scale of the whole as it is seen nearer. */
function over(whole: Scale, { times, x, y }: View): Scale {
  return {
    perMetre: whole.perMetre * times,
    at: (point) => {
      const spot = whole.at(point);
      return { x: spot.x * times + x, y: spot.y * times + y };
    },
    back: (spot) => whole.back({ x: (spot.x - x) / times, y: (spot.y - y) / times }),
  };
}

/** The point of the ground nearest to `aim`, or straight below the working point where that is nearer. */
export function onGround(document: Document, aim: Point): Point {
  const { profile } = document.site;
  const { x_m: start = 0, z_m: height = 0 } = taken(mainAnchor(document)).point ?? {};
  let best = { point: aim, apart: Infinity };
  for (const [index, a] of profile.entries()) {
    const b = profile[index + 1];
    if (!b) break;
    const [dx, dz] = [b.x_m - a.x_m, b.z_m - a.z_m];
    const share = Math.min(
      1,
      Math.max(0, ((aim.x_m - a.x_m) * dx + (aim.z_m - a.z_m) * dz) / (dx * dx + dz * dz || 1)),
    );
    const point = { x_m: a.x_m + share * dx, z_m: a.z_m + share * dz };
    const apart = Math.hypot(point.x_m - aim.x_m, point.z_m - aim.z_m);
    if ((point.x_m > start + 0.2 || point.z_m < height - 0.2) && point.x_m >= start - 1e-9 && apart < best.apart)
      best = { point, apart };
  }
  // A load under its own working point hangs: it is moved up and down there.
  if (Math.abs(aim.x_m - start) < 0.6 && document.load.contact === "hangs")
    return { x_m: start, z_m: Math.min(height - 0.5, aim.z_m) };
  return best.point;
}

export function Section(props: Props) {
  const { document, report, state, gone, span, shaping, canEdit, onEdit, onStrand, onEdge } = props;
  const [ref, { width, height }] = useSize<HTMLDivElement>();
  const [settings] = useSettings();
  const svg = useRef<SVGSVGElement>(null);
  const { view, look, keys } = useView(svg, { width, height });
  const whole = useMemo(() => fit(document, width, height), [document, width, height]);
  const scale = useMemo(() => over(whole, view), [whole, view]);
  const held = useRef<{ scale: Scale; move: (to: Point) => void } | null>(null);
  const live = held.current?.scale ?? scale;
  const { profile, edges = [], load_at } = document.site;
  const ground = profile.map((point) => live.at(point));
  const all = useMemo(() => stretches(report?.lines ?? [], state), [report, state]);

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
      const spot = onGround(old, to);
      return { ...old, site: { ...old.site, load_at: { x_m: spot.x_m, z_m: spot.z_m } } };
    });
  const movePoint = (index: number, to: Point) =>
    onEdit((old) => {
      const points = old.site.profile.map((point, at) =>
        at === index ? { x_m: toReach(to.x_m), z_m: toReach(to.z_m) } : point,
      );
      return { ...old, site: { ...old.site, profile: points } };
    });
  const moveEdge = (index: number, to: Point) =>
    onEdit((old) => {
      const moved = (old.site.edges ?? []).map((edge, at) =>
        at === index ? { ...edge, x_m: toReach(to.x_m), z_m: toReach(to.z_m) } : edge,
      );
      return { ...old, site: { ...old.site, edges: moved } };
    });
  const arrows = (point: Point, move: (to: Point) => void) => (event: KeyboardEvent) => {
    const step = event.shiftKey ? 2 : 0.25;
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key];
    if (!by || !canEdit) return;
    event.preventDefault();
    move({ x_m: point.x_m + by[0]!, z_m: point.z_m + by[1]! });
  };

  const load = live.at(load_at);
  const turns = (report?.lines ?? []).flatMap((line) => line.turns.map((turn) => ({ turn, line })));
  const spots = turns.map(({ turn }) => live.at(turn.at));
  const used = span ? document.anchors : usedAnchors(document);
  const moved = gone?.nodes.find((node) => node.id === "load");
  const ghost = moved && gone && (gone.further_m ?? 0) > 0.009 ? live.at(moved.at) : null;
  const every = useSectionLabels(document, report, all, live);
  // What lies outside the part that is looked at has no label in it.
  const labels = every.filter(({ at }) => at.x >= 0 && at.x <= width && at.y >= 0 && at.y <= height);
  const standing = used.flatMap((anchor) =>
    tiedTo(document, taken(anchor)).map((one) => live.at({ x_m: one.x_m, z_m: one.z_m ?? 0 })),
  );
  const solid = marks(load, spots, standing, width, height);
  const drawn = [
    ...solids(all, live.at),
    ...ground.slice(1).map((b, index) => ({ id: "ground", a: ground[index]!, b })),
  ];
  return (
    <div ref={ref} className="relative min-h-0 min-w-0 flex-1 overflow-hidden">
      <svg
        ref={svg}
        width={width}
        height={height}
        role="group"
        aria-label="Section along the fall line"
        onPointerMove={drag}
        onPointerUp={stop}
        onPointerCancel={stop}
        onKeyDown={keys}
        className="touch-none"
      >
        <Ground line={ground} width={width} height={height} />
        {used.map((anchor) => {
          const point = live.at({ x_m: taken(anchor).point?.x_m ?? 0, z_m: taken(anchor).point?.z_m ?? 0 });
          return tiedTo(document, taken(anchor)).map((feature) => {
            const spot = live.at({ x_m: feature.x_m, z_m: feature.z_m ?? 0 });
            return (
              <g key={`${anchor.id}.${feature.id}`} pointerEvents="none">
                <FromTheSide
                  kind={feature.kind}
                  {...spot}
                  foot={screenGround(ground, spot.x)}
                  tall={Math.max(30, 2.5 * live.perMetre)}
                />
                <line x1={spot.x} y1={spot.y} x2={point.x} y2={point.y} stroke="var(--ink)" strokeWidth={2} />
              </g>
            );
          });
        })}
        {all.map((one) => {
          const [a, b] = [live.at(one.from), live.at(one.to)];
          const drawn = (
            <RopeLine
              a={a}
              b={b}
              role={one.line.role}
              tension={one.strand?.tension?.expected ?? (state?.available ? null : 0)}
              slack={Boolean(one.strand?.slack)}
              runs={runsOn(one)}
              still={!one.strand}
            />
          );
          if (!one.strand) return <g key={one.id}>{drawn}</g>;
          const { strand } = one;
          const words = strand.tension ? `${shown(strand.tension, settings).value} ${settings.force}` : "slack";
          return (
            <Touch
              key={one.id}
              label={`${one.line.name}, stretch ${Number(one.id.split(".")[1]) + 1}, ${words}`}
              onOpen={() => onStrand(strand)}
            >
              <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="transparent" strokeWidth={24} className="focus-ring" />
              {drawn}
            </Touch>
          );
        })}
        {span?.length ? (
          <polyline
            points={[span[0]!, load_at, span[1]!]
              .map((one) => live.at(one))
              .map((one) => `${one.x},${one.y}`)
              .join(" ")}
            fill="none"
            stroke="var(--over)"
            strokeWidth={4}
            pointerEvents="none"
            data-testid="tension-line"
          />
        ) : null}
        <HungSystem state={state} at={live.at} onStrand={onStrand} straight={report?.site.straight ?? false} />
        {used.map((anchor) => {
          const point = live.at({ x_m: taken(anchor).point?.x_m ?? 0, z_m: taken(anchor).point?.z_m ?? 0 });
          return (
            <circle
              key={anchor.id}
              cx={point.x}
              cy={point.y}
              r={6}
              fill="var(--sheet)"
              stroke="var(--ink)"
              strokeWidth={2.5}
            />
          );
        })}
        {turns.map(({ turn, line }, index) => {
          const spot = spots[index]!;
          const crossing = state?.crossings.find((one) => one.id === turn.node);
          const hidden = turns
            .slice(0, index)
            .some(({ turn: other }) => other.at.x_m === turn.at.x_m && other.at.z_m === turn.at.z_m);
          if (hidden) return null;
          return (
            <Touch
              key={`${line.id}.${turn.node}`}
              label={`Edge ${turn.name}, rope turns ${degrees(turn.turn_rad)}`}
              onOpen={() => crossing && onEdge(crossing)}
            >
              <circle
                cx={spot.x}
                cy={spot.y}
                r={shaping ? 14 : reachOf(spot, spots)}
                fill="transparent"
                className="focus-ring"
              />
              {turn.entered ? (
                <circle cx={spot.x} cy={spot.y} r={7} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} />
              ) : (
                <path
                  d={`M${spot.x} ${spot.y - 9} l9 9 l-9 9 l-9 -9 Z`}
                  fill="var(--sheet)"
                  stroke="var(--over)"
                  strokeWidth={2.5}
                />
              )}
            </Touch>
          );
        })}
        {shaping && canEdit
          ? [
              ...profile.map((point, index) => ({
                id: `ground ${index + 1}`,
                point,
                move: (to: Point) => movePoint(index, to),
                square: true,
              })),
              ...edges.map((edge, index) => ({
                id: `edge ${edge.name}`,
                point: edge,
                move: (to: Point) => moveEdge(index, to),
                square: false,
              })),
            ].map(({ id, point, move, square }) => {
              const spot = live.at(point);
              return (
                <g
                  key={id}
                  tabIndex={0}
                  role="slider"
                  aria-label={`Move ${id}`}
                  aria-valuetext={`${point.x_m} m out, ${point.z_m} m high`}
                  aria-valuenow={point.x_m}
                  onKeyDown={arrows(point, move)}
                  onPointerDown={start(move)}
                  className="cursor-move"
                >
                  <circle cx={spot.x} cy={spot.y} r={22} fill="transparent" className="focus-ring" />
                  {square ? (
                    <rect
                      x={spot.x - 5}
                      y={spot.y - 5}
                      width={10}
                      height={10}
                      fill="var(--sheet)"
                      stroke="var(--ink)"
                      strokeWidth={2}
                    />
                  ) : (
                    <circle cx={spot.x} cy={spot.y} r={7} fill="var(--ink)" />
                  )}
                </g>
              );
            })
          : null}
        {ghost ? <Dropped from={load} to={ghost} metres={gone?.further_m ?? 0} /> : null}
        {gone && gone.further_m === null ? <Falls from={load} /> : null}
        <g
          tabIndex={0}
          role="slider"
          aria-label="Move the load along the ground"
          aria-valuetext={`${digits(load_at.x_m)} m out`}
          aria-valuenow={load_at.x_m}
          onKeyDown={arrows(load_at, moveLoad)}
          onPointerDown={start(moveLoad)}
          className="cursor-grab"
          data-testid="load"
        >
          <circle cx={load.x} cy={load.y} r={26} fill="transparent" className="focus-ring" />
          <Litter at={load} />
        </g>
        {report?.site.drop_m ? (
          <Drop bottom={load} metres={report.site.drop_m} perMetre={live.perMetre} width={width} />
        ) : null}
        <Scalebar perMetre={live.perMetre} height={height} />
        <Labels labels={labels} bounds={{ width, height }} taken={solid} lines={drawn} />
      </svg>
      {view.times > 1 ? (
        <Whereabouts
          ground={profile.map((point) => whole.at(point))}
          view={view}
          width={width}
          height={height}
          onWhole={() => look(WHOLE)}
        />
      ) : null}
    </div>
  );
}

/** Height on the screen of the ground at a place on the screen. */
export function screenGround(ground: Spot[], x: number): number {
  const index = ground.findIndex((spot, at) => at > 0 && spot.x >= x);
  const [a, b] = [ground[index - 1], ground[index]];
  return a && b ? a.y + ((b.y - a.y) * (x - a.x)) / (b.x - a.x || 1) : 0;
}

/** The lines from above, to scale: where anchors, redirects and haulers stand to the side. Out is to the right. */
import { useMemo, useRef, type KeyboardEvent } from "react";
import type { Document, Report, Spot as Place, StateReport, Strand } from "../api/types";
import { useSettings } from "../ui/settings";
import { anchorsOf, haulingLine, taken, tiedTo } from "../plan/document";
import { shown } from "../ui/format";
import { arrowStep, toReach, useDragging } from "./dragging";
import { FromAbove } from "./featureMarks";
import { Labels, type Label } from "./Labels";
import type { Box, Line as Solid, Spot } from "./labels";
import { Touch } from "./marks";
import { RopeLine } from "./ropes";
import { Scalebar } from "./Scalebar";
import { useSize } from "./useSize";

interface Flat {
  x_m: number;
  y_m: number;
}

interface Props {
  document: Document;
  report: Report | null;
  state: StateReport | null;
  canEdit: boolean;
  onMoveAnchor: (id: string, to: Flat) => void;
  onWalk: (heading: number) => void;
  /** The haul strand dropped on a feature: turned there. */
  onRedirect: (feature: string) => void;
  onStrand: (strand: Strand) => void;
}

/** How far out the drawing goes: the first corner, or what lies by the anchors. */
function fit(document: Document, report: Report | null, hands: Flat[], width: number, height: number) {
  const points = document.anchors.map((anchor) => taken(anchor).point);
  const corner = report?.lines[0]?.way[1];
  const xs = [
    ...document.features.map((one) => one.x_m),
    ...points.map((one) => one?.x_m ?? 0),
    Math.min(corner?.x_m ?? 3, 9),
    ...hands.map((one) => one.x_m),
  ];
  const ys = [
    ...document.features.map((one) => one.y_m ?? 0),
    ...points.map((one) => one?.y_m ?? 0),
    -2.5,
    2.5,
    ...hands.map((one) => one.y_m),
  ];
  const [left, right, top, bottom] = [
    Math.min(...xs) - 0.8,
    Math.max(...xs) + 0.8,
    Math.min(...ys) - 0.9,
    Math.max(...ys) + 0.9,
  ];
  const perMetre = Math.min((width - 16) / (right - left), (height - 16) / (bottom - top));
  const [shiftX, shiftY] = [(width - perMetre * (right - left)) / 2, (height - perMetre * (bottom - top)) / 2];
  return {
    perMetre,
    at: ({ x_m, y_m }: Flat): Spot => ({ x: shiftX + (x_m - left) * perMetre, y: shiftY + (y_m - top) * perMetre }),
    back: (x: number, y: number): Flat => ({ x_m: left + (x - shiftX) / perMetre, y_m: top + (y - shiftY) / perMetre }),
  };
}

/** Whether anything lies to the side, so that a drawing from above says more than the section. */
export function liesAside(document: Document): boolean {
  const named = new Set((document.lines ?? []).flatMap(anchorsOf));
  return document.anchors.some((anchor) => named.has(anchor.id) && Math.abs(taken(anchor).point?.y_m ?? 0) > 0.25);
}

export function LinesPlan(props: Props) {
  const { document, report, state, canEdit } = props;
  const [ref, { width, height }] = useSize<HTMLDivElement>();
  const [settings] = useSettings();
  const scale = useMemo(() => {
    const hands = state?.nodes.filter((node) => node.kind === "hands").map((node) => node.at) ?? [];
    return fit(document, report, hands, width, height);
  }, [document, report, state, width, height]);
  const kept = useRef(scale);
  const drag = useDragging<Flat>((x, y) => kept.current.back(x, y));
  const live = drag.held.current ? kept.current : scale;
  kept.current = live;
  const named = new Set((document.lines ?? []).flatMap(anchorsOf));
  const used = document.anchors.filter((one) => named.has(one.id));
  const hauling = haulingLine(document);
  const roles = new Map((report?.lines ?? []).map((line) => [line.id, line.role]));
  const place = new Map((state?.nodes ?? []).map((node) => [node.id, node]));
  const strands = (state?.strands ?? []).filter((one) => !one.rope.endsWith("cord"));
  const hands = state?.nodes.find((node) => node.kind === "hands" && node.id === `${hauling?.id}:hands`);
  const drawn = strands.flatMap((strand) => {
    const [from, to] = [place.get(strand.start), place.get(strand.end)];
    if (!from || !to) return [];
    const [a, b] = [live.at(from.at), live.at(to.at)];
    return Math.hypot(a.x - b.x, a.y - b.y) < 4 ? [] : [{ strand, a, b, role: roles.get(strand.line) ?? "main" }];
  });
  const pulls = new Map((state?.anchors ?? []).map((one) => [one.anchor, one]));
  const labels = useMemo((): Label[] => {
    const found: Label[] = [];
    for (const anchor of used) {
      const spot = live.at(flat(taken(anchor).point));
      const pull = pulls.get(anchor.id);
      const text = pull ? `${shown(pull.force, settings).value} ${settings.force}` : "";
      found.push({
        id: `n.${anchor.id}`,
        text: text ? `${anchor.name} ${text}` : anchor.name,
        tag: Boolean(text),
        at: spot,
        spots: [
          [0, -24],
          [0, 26],
          [12, -18],
          [-12, 20],
          [14, 24],
          [-14, -24],
          [0, 46],
          [0, -46],
        ],
      });
    }
    for (const feature of document.features.filter(
      (one) => named.size && used.some((a) => taken(a).legs.some((leg) => leg.feature === one.id)),
    ))
      found.push({
        id: `f.${feature.id}`,
        text: feature.name,
        at: live.at(flat(feature)),
        spots: [
          [0, -28],
          [0, 30],
          [-20, 0],
          [20, 0],
        ],
      });
    if (hands)
      found.push({
        id: "hands",
        text: hands.name,
        at: live.at(hands.at),
        spots: [
          [14, 0],
          [0, 26],
          [0, -26],
          [-14, 0],
        ],
      });
    return found;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- everything labelled follows from these
  }, [document, state, live, settings]);
  const solid: Solid[] = drawn.map(({ strand, a, b }) => ({ id: strand.id, a, b }));
  const marks: Box[] = [
    ...document.features.map((one) => box(live.at(flat(one)), 13)),
    ...used.map((one) => box(live.at(flat(taken(one).point)), 8)),
    { x: 10, y: height - 38, width: 130, height: 36 },
  ];
  const led = hauling?.haul?.redirects?.at(-1);
  const last: Place | undefined = hands
    ? (state?.nodes.find((node) => node.id === `${hauling?.id}:haul:${hauling?.haul?.redirects?.length ?? 0}`)?.at ?? {
        x_m: 0,
        y_m: 0,
        z_m: 0,
      })
    : undefined;
  const pullTo = (to: Flat) => {
    const near = document.features.find(
      (one) => one.verdict !== "reject" && Math.hypot(one.x_m - to.x_m, (one.y_m ?? 0) - to.y_m) < 0.7,
    );
    if (near && !led) props.onRedirect(near.id);
    else if (last) props.onWalk(heading(Math.atan2(to.y_m - last.y_m, to.x_m - last.x_m)));
  };
  const keyed = (from: Flat, move: (to: Flat) => void) => (event: KeyboardEvent) => {
    const by = arrowStep(event);
    if (!by || !canEdit) return;
    event.preventDefault();
    move({ x_m: toReach(from.x_m + by[0]), y_m: toReach(from.y_m - by[1]) });
  };
  return (
    <div ref={ref} className="relative min-h-0 min-w-0 flex-1 overflow-hidden">
      <svg
        ref={drag.svg}
        width={width}
        height={height}
        role="group"
        aria-label="Lines from above"
        onPointerMove={drag.onPointerMove}
        onPointerCancel={drag.release}
        className="touch-none"
      >
        {(document.site.edges ?? []).map((edge) => {
          const x = live.at({ x_m: edge.x_m, y_m: 0 }).x;
          return x < width - 4 ? (
            <line
              key={edge.name}
              x1={x}
              x2={x}
              y1={0}
              y2={height}
              stroke="var(--ink)"
              strokeWidth={1.2}
              strokeDasharray="8 5"
            />
          ) : null;
        })}
        {document.features.map((feature) => {
          const spot = live.at(flat(feature));
          return (
            <g key={feature.id} opacity={used.some((one) => tiedTo(document, taken(one)).includes(feature)) ? 1 : 0.4}>
              <FromAbove kind={feature.kind} x={spot.x} y={spot.y} r={6} />
            </g>
          );
        })}
        {used.flatMap((anchor) =>
          tiedTo(document, taken(anchor)).map((feature) => {
            const [a, b] = [live.at(flat(feature)), live.at(flat(taken(anchor).point))];
            return (
              <line
                key={`${anchor.id}.${feature.id}`}
                x1={a.x}
                y1={a.y}
                x2={b.x}
                y2={b.y}
                stroke="var(--ink)"
                strokeWidth={1.8}
              />
            );
          }),
        )}
        {drawn.map(({ strand, a, b, role }) => (
          <Touch
            key={strand.id}
            label={`From above, ${strand.line}, ${strand.tension ? `${shown(strand.tension, settings).value} ${settings.force}` : "slack"}`}
            onOpen={() => props.onStrand(strand)}
          >
            <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="transparent" strokeWidth={20} className="focus-ring" />
            <RopeLine
              a={a}
              b={b}
              role={role}
              tension={strand.tension?.expected ?? null}
              slack={strand.slack}
              runs={strand.runs === "to-end" ? "ahead" : strand.runs === "to-start" ? "back" : ""}
            />
          </Touch>
        ))}
        {used.map((anchor) => {
          const point = flat(taken(anchor).point);
          const spot = live.at(point);
          const move = (to: Flat) => props.onMoveAnchor(anchor.id, { x_m: toReach(to.x_m), y_m: toReach(to.y_m) });
          return (
            <g
              key={anchor.id}
              role="slider"
              tabIndex={0}
              aria-label={`Move ${anchor.name}`}
              aria-valuenow={point.x_m}
              aria-valuetext={`${point.x_m} m out, ${point.y_m} m to the right`}
              className="cursor-move"
              onPointerDown={canEdit ? drag.grab(move) : undefined}
              onPointerUp={drag.release}
              onKeyDown={keyed(point, move)}
            >
              <circle cx={spot.x} cy={spot.y} r={22} fill="transparent" className="focus-ring" />
              <circle cx={spot.x} cy={spot.y} r={6.5} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} />
            </g>
          );
        })}
        {hands ? (
          <g
            role="slider"
            tabIndex={0}
            aria-label="Lead the haul: drag to a feature to turn it there, or turn the haulers' way"
            aria-valuenow={Math.round(((hauling?.haul?.walk_rad ?? Math.PI) * 180) / Math.PI)}
            className="cursor-grab"
            data-testid="haulers"
            onPointerDown={canEdit ? drag.grab(pullTo) : undefined}
            onPointerUp={drag.release}
            onKeyDown={(event) => {
              const by = arrowStep(event);
              if (!by || !canEdit) return;
              event.preventDefault();
              props.onWalk(heading((hauling?.haul?.walk_rad ?? Math.PI) + ((by[0] - by[1]) * Math.PI) / 18));
            }}
          >
            <circle
              cx={live.at(hands.at).x}
              cy={live.at(hands.at).y}
              r={24}
              fill="transparent"
              className="focus-ring"
            />
            {[0, 1, 2].map((one) => (
              <circle
                key={one}
                cx={live.at(hands.at).x + (one - 1) * 9}
                cy={live.at(hands.at).y + (one % 2) * 7}
                r={4.5}
                fill="var(--ink)"
              />
            ))}
          </g>
        ) : null}
        <Scalebar perMetre={live.perMetre} height={height} />
        <Labels labels={labels} bounds={{ width, height }} taken={marks} lines={solid} />
      </svg>
    </div>
  );
}

function flat(place: { x_m?: number; y_m?: number } | undefined): Flat {
  return { x_m: place?.x_m ?? 0, y_m: place?.y_m ?? 0 };
}

function box(spot: Spot, reach: number): Box {
  return { x: spot.x - reach, y: spot.y - reach, width: 2 * reach, height: 2 * reach };
}

/** A heading to ten degrees, between half turns. */
function heading(radians: number): number {
  const degrees = Math.round((radians * 18) / Math.PI) * 10;
  return ((((degrees + 540) % 360) - 180) * Math.PI) / 180;
}

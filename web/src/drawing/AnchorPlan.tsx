/** The anchors from above, to scale: what the ground and the leader gave in ink, pulls overprinted. Out is to the right. */
import { useMemo, useRef, type KeyboardEvent } from "react";
import type { Arrangement, ArrangementReport, Document, Feature, FeatureReport, Spot } from "../api/types";
import { useSettings } from "../ui/settings";
import { degrees, digits } from "../ui/format";
import { anchorLabels } from "./anchorLabels";
import { arrowStep, toReach, useDragging } from "./dragging";
import { FromAbove } from "./featureMarks";
import { Labels } from "./Labels";
import type { Box, Line } from "./labels";
import { ropeWidth, Touch } from "./marks";
import { Scalebar } from "./Scalebar";
import { useSize } from "./useSize";

interface Flat {
  x_m: number;
  y_m: number;
}

interface Props {
  document: Document;
  arrangement: Arrangement;
  report: ArrangementReport | null;
  features: FeatureReport[];
  /** The leg that is asked to go. */
  gone: number | null;
  canEdit: boolean;
  onGone: (leg: number | null) => void;
  onFeature: (id: string) => void;
  onMoveFeature: (id: string, to: Flat) => void;
  onMovePoint: (to: Flat) => void;
  onTurnPull: (heading: number) => void;
}

const ARROW_PX = 120;
const AHEAD_PX = ARROW_PX + 60;

function fit(document: Document, point: Flat, width: number, height: number) {
  const xs = [...document.features.map((one) => one.x_m), point.x_m, point.x_m + 1.2];
  const ys = [...document.features.map((one) => one.y_m ?? 0), point.y_m];
  const [left, right, top, bottom] = [
    Math.min(...xs) - 0.7,
    Math.max(...xs) + 0.7,
    Math.min(...ys) - 0.6,
    Math.max(...ys) + 0.6,
  ];
  const perMetre = Math.min(
    (width - 60) / Math.max(2, right - left),
    (height - 40) / Math.max(2, bottom - top),
    (width - AHEAD_PX - 20) / Math.max(1, point.x_m - left),
  );
  // The pull's arrow and its cone ahead of the working point stay on the sheet too.
  const shiftX = Math.min((width - perMetre * (right - left)) / 2, width - AHEAD_PX - perMetre * (point.x_m - left));
  const shiftY = (height - perMetre * (bottom - top)) / 2;
  return {
    perMetre,
    at: ({ x_m, y_m }: Flat) => ({ x: shiftX + (x_m - left) * perMetre, y: shiftY + (y_m - top) * perMetre }),
    back: (x: number, y: number): Flat => ({ x_m: left + (x - shiftX) / perMetre, y_m: top + (y - shiftY) / perMetre }),
  };
}

/** Shape of a feature as its inspection has it: half its width where the strap goes. */
function radius(feature: Feature): number {
  const diameter = feature.answers?.["diameter_m"];
  if (typeof diameter === "number") return diameter / 2;
  const girth = feature.answers?.["girth_m"];
  return typeof girth === "number" ? girth / (2 * Math.PI) : 0;
}

export function AnchorPlan(props: Props) {
  const { document, arrangement, report, features, gone, canEdit } = props;
  const [ref, { width, height }] = useSize<HTMLDivElement>();
  const [settings] = useSettings();
  const point: Flat = arrangement.point;
  const scale = useMemo(() => fit(document, point, width, height), [document, point, width, height]);
  const kept = useRef(scale);
  const drag = useDragging<Flat>((x, y) => kept.current.back(x, y));
  const live = drag.held.current ? kept.current : scale;
  kept.current = live;

  const removal = gone === null ? null : (report?.removals.find((one) => one.leg === gone) ?? null);
  const loaded = report?.available ? report.loaded_at : null;
  const now: Spot | null = removal && removal.outcome !== "nothing" ? removal.point : loaded;
  const wanted = live.at(point);
  const at = now ? live.at(now) : wanted;
  const heading = report?.heading_rad ?? arrangement.heading_rad ?? 0;
  const swing = arrangement.swing_rad ?? 0;
  const tip = (angle: number, far: number, from = at) => ({
    x: from.x + far * Math.cos(angle),
    y: from.y + far * Math.sin(angle),
  });
  // A pull straight down has no direction from above: it is drawn as a mark on the point.
  const down = report ? Math.hypot(report.direction.x_m, report.direction.y_m) < 0.05 : false;
  const arrow = down ? { x: at.x, y: at.y } : tip(heading, ARROW_PX);
  const [left, right] = [tip(heading - swing, ARROW_PX + 26), tip(heading + swing, ARROW_PX + 26)];
  const worst = report?.sweep;
  const worstTip =
    worst && Math.abs(worst.worst_rad) > 0.01 && !removal ? tip(heading + worst.worst_rad, ARROW_PX + 26) : null;
  const rejected = (id: string) => document.features.find((one) => one.id === id)?.verdict === "reject";

  const force = (leg: number) => (removal ? removal.forces[leg] : report?.legs[leg]?.force);
  const legs = (report?.legs ?? []).map((leg) => ({
    leg,
    from: leg.behind ? live.at(leg.start) : at,
    to: live.at(leg.end),
    pull: force(leg.index),
  }));

  const labels = useMemo(
    () =>
      anchorLabels({
        document,
        report,
        legs,
        gone,
        removed: removal !== null,
        at: live.at,
        arrow,
        worstTip,
        width,
        height,
        settings,
      }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- everything labelled follows from these
    [document, report, gone, live, settings, width, height],
  );
  const taken: Box[] = [
    ...document.features.map((feature) => {
      const spot = live.at({ x_m: feature.x_m, y_m: feature.y_m ?? 0 });
      return { x: spot.x - 14, y: spot.y - 14, width: 28, height: 28 };
    }),
    { x: wanted.x - 8, y: wanted.y - 8, width: 16, height: 16 },
    { x: 10, y: height - 36, width: 150, height: 32 },
  ];
  const lines: Line[] = [
    ...legs.map(({ leg, from, to }) => ({ id: `leg${leg.index}`, a: from, b: to })),
    ...(report?.available && !down ? [{ id: "arrow", a: at, b: arrow }] : []),
    ...(worstTip ? [{ id: "worst", a: at, b: worstTip }] : []),
    ...(document.site.edges ?? []).map((edge) => {
      const x = live.at({ x_m: edge.x_m, y_m: 0 }).x;
      return { id: `e:${edge.name}`, a: { x, y: 0 }, b: { x, y: height } };
    }),
  ];

  const stepped = (from: Flat, move: (to: Flat) => void, open?: () => void) => (event: KeyboardEvent) => {
    const by = arrowStep(event);
    if (by && canEdit) {
      event.preventDefault();
      // Up on the sheet is to the left, looking out: y falls.
      move({ x_m: toReach(from.x_m + by[0]), y_m: toReach(from.y_m - by[1]) });
    } else if (open && (event.key === "Enter" || event.key === " ")) {
      event.preventDefault();
      open();
    }
  };
  const turn = (to: Flat) => {
    const from = live.back(at.x, at.y);
    props.onTurnPull(Math.atan2(to.y_m - from.y_m, to.x_m - from.x_m));
  };

  return (
    <div ref={ref} className="relative min-h-0 min-w-0 flex-1 overflow-hidden">
      <svg
        ref={drag.svg}
        width={width}
        height={height}
        role="group"
        aria-label="Anchors from above"
        onPointerMove={drag.onPointerMove}
        onPointerCancel={drag.release}
        className="touch-none"
      >
        <FallLine document={document} from={wanted} width={width} height={height} at={live.at} />
        {report?.available && !down ? (
          <path
            d={`M${at.x} ${at.y} L${left.x} ${left.y} A${ARROW_PX + 26} ${ARROW_PX + 26} 0 0 1 ${right.x} ${right.y} Z`}
            fill="var(--tint)"
            stroke="var(--over)"
            strokeDasharray="5 4"
            strokeWidth={1.2}
            pointerEvents="none"
          />
        ) : null}
        {removal && loaded ? <Moved from={live.at(loaded)} to={at} legs={legs.map(({ to }) => to)} /> : null}
        {legs.map(({ leg, from, to, pull }) => {
          const dead = gone === leg.index;
          const slack = pull ? pull.expected < 1 : true;
          const line = { x1: from.x, y1: from.y, x2: to.x, y2: to.y };
          return (
            <Touch
              key={leg.index}
              label={dead ? `Put the leg to ${leg.name} back` : `What if the leg to ${leg.name} goes?`}
              onOpen={() => props.onGone(dead ? null : leg.index)}
            >
              <line {...line} stroke="transparent" strokeWidth={26} className="focus-ring" />
              {dead ? (
                <line {...line} stroke="var(--ink)" strokeWidth={1.5} strokeDasharray="2 7" />
              ) : slack ? (
                <line {...line} stroke="var(--ink)" strokeWidth={2} strokeDasharray="9 6" />
              ) : report?.piece ? (
                <Bights from={from} to={to} strands={leg.strands} width={ropeWidth(pull!.expected / leg.strands)} />
              ) : (
                <line {...line} stroke="var(--over)" strokeWidth={ropeWidth(pull!.expected)} strokeLinecap="round" />
              )}
              {dead ? <Cross x={(from.x + to.x) / 2} y={(from.y + to.y) / 2} /> : null}
            </Touch>
          );
        })}
        {arrangement.set_down && now ? (
          <line
            x1={at.x}
            y1={at.y}
            x2={wanted.x}
            y2={wanted.y}
            stroke="var(--over)"
            strokeWidth={ropeWidth(report?.pull?.expected ?? 0)}
            strokeLinecap="round"
            pointerEvents="none"
          />
        ) : null}
        {(arrangement.ties ?? []).map((tie, index) => {
          const feature = document.features.find((one) => one.id === tie.feature);
          if (!feature) return null;
          const end = live.at({ x_m: feature.x_m, y_m: feature.y_m ?? 0 });
          return (
            <line
              key={index}
              x1={wanted.x}
              y1={wanted.y}
              x2={end.x}
              y2={end.y}
              stroke="var(--ink)"
              strokeWidth={1.5}
              strokeDasharray="1 6"
              strokeLinecap="round"
              pointerEvents="none"
              data-testid="tie"
            />
          );
        })}
        {arrangement.prop ? (
          <PropMark foot={live.at({ x_m: arrangement.prop.foot.x_m, y_m: arrangement.prop.foot.y_m })} />
        ) : null}
        {document.features.map((feature) => {
          const spot = live.at({ x_m: feature.x_m, y_m: feature.y_m ?? 0 });
          const judged = features.find((one) => one.id === feature.id);
          const move = (to: Flat) => props.onMoveFeature(feature.id, { x_m: toReach(to.x_m), y_m: toReach(to.y_m) });
          return (
            <g
              key={feature.id}
              role="button"
              tabIndex={0}
              aria-label={`${feature.name}, ${judged ? `${digits(judged.distance.expected)} m away` : ""}`}
              className={canEdit ? "cursor-move" : "cursor-pointer"}
              onKeyDown={stepped({ x_m: feature.x_m, y_m: feature.y_m ?? 0 }, move, () => props.onFeature(feature.id))}
              onPointerDown={canEdit ? drag.grab(move) : undefined}
              onPointerUp={() => !drag.release() && props.onFeature(feature.id)}
              data-feature={feature.id}
            >
              <circle cx={spot.x} cy={spot.y} r={24} fill="transparent" className="focus-ring" />
              <g opacity={rejected(feature.id) ? 0.45 : 1}>
                <FromAbove kind={feature.kind} x={spot.x} y={spot.y} r={radius(feature) * live.perMetre} />
              </g>
              {rejected(feature.id) ? <Cross x={spot.x} y={spot.y} /> : null}
            </g>
          );
        })}
        {report?.available && down ? (
          <path
            d={`M${at.x - 15} ${at.y} a15 15 0 1 0 30 0 a15 15 0 1 0 -30 0 M${at.x - 10.5} ${at.y - 10.5} l21 21 m0 -21 l-21 21`}
            fill="none"
            stroke="var(--over)"
            strokeWidth={3}
            pointerEvents="none"
          />
        ) : null}
        {report?.available && report.pull && !down ? (
          <g>
            {worstTip ? <Worst from={at} tip={worstTip} /> : null}
            <g
              role="slider"
              tabIndex={0}
              aria-label="Turn the pull"
              aria-valuenow={Math.round((heading * 180) / Math.PI)}
              aria-valuetext={`${degrees(heading)} off the fall line`}
              className="cursor-grab"
              onPointerDown={canEdit ? drag.grab(turn) : undefined}
              onPointerUp={drag.release}
              onKeyDown={(event) => {
                const by = arrowStep(event);
                if (by && canEdit) {
                  event.preventDefault();
                  props.onTurnPull(heading + ((by[0] - by[1]) * Math.PI) / 18);
                }
              }}
            >
              <line
                x1={at.x}
                y1={at.y}
                x2={arrow.x}
                y2={arrow.y}
                stroke="var(--over)"
                strokeWidth={ropeWidth(report.pull.expected)}
                pointerEvents="none"
              />
              <path d={head(at, arrow)} fill="var(--over)" pointerEvents="none" />
              <line
                x1={at.x + 0.35 * (arrow.x - at.x)}
                y1={at.y + 0.35 * (arrow.y - at.y)}
                x2={arrow.x}
                y2={arrow.y}
                stroke="transparent"
                strokeWidth={34}
              />
              <circle cx={arrow.x} cy={arrow.y} r={24} fill="transparent" className="focus-ring" />
            </g>
          </g>
        ) : null}
        <g
          role="slider"
          tabIndex={0}
          aria-label="Move the working point"
          aria-valuenow={point.x_m}
          aria-valuetext={`${point.x_m} m out, ${point.y_m} m to the right`}
          className="cursor-move"
          onPointerDown={
            canEdit ? drag.grab((to) => props.onMovePoint({ x_m: toReach(to.x_m), y_m: toReach(to.y_m) })) : undefined
          }
          onPointerUp={drag.release}
          onKeyDown={stepped(point, (to) => props.onMovePoint(to))}
          data-testid="working-point"
        >
          <circle cx={wanted.x} cy={wanted.y} r={22} fill="transparent" className="focus-ring" />
          <circle cx={wanted.x} cy={wanted.y} r={7} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} />
        </g>
        {now ? <circle cx={at.x} cy={at.y} r={4} fill="var(--over)" pointerEvents="none" /> : null}
        <Scalebar perMetre={live.perMetre} height={height} />
        <Labels labels={labels} bounds={{ width, height }} taken={taken} lines={lines} />
      </svg>
    </div>
  );
}

/** The strands of a leg out of one piece, side by side, fanned out towards what they go round. */
function Bights({
  from,
  to,
  strands,
  width,
}: {
  from: { x: number; y: number };
  to: { x: number; y: number };
  strands: number;
  width: number;
}) {
  const long = Math.max(1, Math.hypot(to.x - from.x, to.y - from.y));
  const [across, up] = [-(to.y - from.y) / long, (to.x - from.x) / long];
  const step = Math.max(4, width + 2.5);
  return (
    <g data-testid="bights">
      {Array.from({ length: strands }, (_, index) => {
        const off = (index - (strands - 1) / 2) * step;
        return (
          <line
            key={index}
            x1={from.x + (across * off) / 3}
            y1={from.y + (up * off) / 3}
            x2={to.x + across * off}
            y2={to.y + up * off}
            stroke="var(--over)"
            strokeWidth={width}
            strokeLinecap="round"
          />
        );
      })}
    </g>
  );
}

function head(from: { x: number; y: number }, to: { x: number; y: number }): string {
  const angle = Math.atan2(to.y - from.y, to.x - from.x);
  const corner = (turn: number) => `${to.x + 17 * Math.cos(angle + turn)} ${to.y + 17 * Math.sin(angle + turn)}`;
  return `M${to.x + 8 * Math.cos(angle)} ${to.y + 8 * Math.sin(angle)} L${corner(2.7)} L${corner(-2.7)} Z`;
}

function Cross({ x, y }: { x: number; y: number }) {
  return (
    <path
      d={`M${x - 11} ${y - 11} l22 22 m0 -22 l-22 22`}
      stroke="var(--over)"
      strokeWidth={3.5}
      pointerEvents="none"
    />
  );
}

function PropMark({ foot }: { foot: { x: number; y: number } }) {
  return (
    <path
      d={`M${foot.x - 8} ${foot.y + 7} L${foot.x} ${foot.y - 9} L${foot.x + 8} ${foot.y + 7} Z`}
      fill="none"
      stroke="var(--ink)"
      strokeWidth={2}
      pointerEvents="none"
    />
  );
}

/** Where the point was before a leg went, and the way it went. */
function Moved({
  from,
  to,
  legs,
}: {
  from: { x: number; y: number };
  to: { x: number; y: number };
  legs: { x: number; y: number }[];
}) {
  return (
    <g pointerEvents="none" stroke="var(--quiet)" strokeWidth={1.2} strokeDasharray="4 4" fill="none">
      {legs.map((end, index) => (
        <line key={index} x1={from.x} y1={from.y} x2={end.x} y2={end.y} />
      ))}
      <circle cx={from.x} cy={from.y} r={6} strokeDasharray="" />
      <path d={`M${from.x} ${from.y} L${to.x} ${to.y}`} stroke="var(--over)" strokeWidth={2.5} strokeDasharray="" />
    </g>
  );
}

function Worst({ from, tip }: { from: { x: number; y: number }; tip: { x: number; y: number } }) {
  return (
    <g pointerEvents="none">
      <line x1={from.x} y1={from.y} x2={tip.x} y2={tip.y} stroke="var(--over)" strokeWidth={2} />
      <path d={`M${tip.x} ${tip.y - 8} l8 8 l-8 8 l-8 -8 Z`} fill="var(--over)" />
    </g>
  );
}

/** The fall line through the working point's origin, and the edges that cross it. */
function FallLine({
  document,
  from,
  width,
  height,
  at,
}: {
  document: Document;
  from: { x: number; y: number };
  width: number;
  height: number;
  at: (place: Flat) => { x: number; y: number };
}) {
  const line = at({ x_m: 0, y_m: 0 }).y;
  return (
    <g pointerEvents="none">
      <line
        x1={Math.min(from.x, width)}
        x2={width}
        y1={line}
        y2={line}
        stroke="var(--quiet)"
        strokeDasharray="14 4 2 4"
        strokeWidth={1.2}
      />
      {(document.site.edges ?? []).map((edge) => {
        const x = at({ x_m: edge.x_m, y_m: 0 }).x;
        return x < width - 4 ? (
          <g key={edge.name}>
            <line x1={x} x2={x} y1={0} y2={height} stroke="var(--ink)" strokeWidth={1.5} />
          </g>
        ) : null;
      })}
    </g>
  );
}

/** The anchors from the side, to scale: heights of features and working point over the ground, legs and pull. */
import { useMemo, useRef, type KeyboardEvent } from "react";
import type { Arrangement, ArrangementReport, Document, Point } from "../api/types";
import { useSettings } from "../ui/settings";
import { tiedTo } from "../plan/document";
import { shown } from "../ui/format";
import { arrowStep, toReach, useDragging } from "./dragging";
import { FromTheSide } from "./featureMarks";
import { ropeWidth, Tag } from "./marks";
import { Ground } from "./Ground";
import { Scalebar } from "./Scalebar";
import { screenGround } from "./Section";
import { useSize } from "./useSize";

interface Props {
  document: Document;
  arrangement: Arrangement;
  report: ArrangementReport | null;
  gone: number | null;
  canEdit: boolean;
  onMovePoint: (to: Point) => void;
}

function fit(document: Document, arrangement: Arrangement, width: number, height: number) {
  const used = tiedTo(document, arrangement);
  const point = { x_m: arrangement.point.x_m, z_m: arrangement.point.z_m };
  const xs = [...used.map((one) => one.x_m), point.x_m, point.x_m + 1];
  const zs = [...used.map((one) => (one.z_m ?? 0) + 0.8), point.z_m, point.z_m - 1];
  const [left, right, low, high] = [
    Math.min(...xs) - 0.7,
    Math.max(...xs) + 0.6,
    Math.min(...zs) - 0.3,
    Math.max(...zs) + 0.2,
  ];
  const perMetre = Math.min((width - 24) / Math.max(2, right - left), (height - 24) / Math.max(1.5, high - low));
  const [shiftX, shiftY] = [(width - perMetre * (right - left)) / 2, (height - perMetre * (high - low)) / 2];
  return {
    perMetre,
    at: ({ x_m, z_m }: Point) => ({ x: shiftX + (x_m - left) * perMetre, y: shiftY + (high - z_m) * perMetre }),
    back: (x: number, y: number): Point => ({
      x_m: left + (x - shiftX) / perMetre,
      z_m: high - (y - shiftY) / perMetre,
    }),
  };
}

export function AnchorSide({ document, arrangement, report, gone, canEdit, onMovePoint }: Props) {
  const [ref, { width, height }] = useSize<HTMLDivElement>();
  const [settings] = useSettings();
  const scale = useMemo(() => fit(document, arrangement, width, height), [document, arrangement, width, height]);
  const kept = useRef(scale);
  const drag = useDragging<Point>((x, y) => kept.current.back(x, y));
  const live = drag.held.current ? kept.current : scale;
  kept.current = live;
  const ground = document.site.profile.map((point) => live.at(point));
  const wanted = { x_m: arrangement.point.x_m, z_m: arrangement.point.z_m };
  const removal = gone === null ? null : report?.removals.find((one) => one.leg === gone);
  const now = removal && removal.outcome !== "nothing" ? removal.point : report?.available ? report.loaded_at : null;
  const [set, at] = [live.at(wanted), live.at(now ?? wanted)];
  const along = report?.direction;
  const tip = along
    ? { x: at.x + 90 * Math.hypot(along.x_m, along.y_m) * Math.sign(along.x_m || 1), y: at.y - 90 * along.z_m }
    : null;
  const used = tiedTo(document, arrangement);
  const keys = (event: KeyboardEvent) => {
    const by = arrowStep(event);
    if (!by || !canEdit) return;
    event.preventDefault();
    onMovePoint({ x_m: toReach(wanted.x_m + by[0]), z_m: toReach(wanted.z_m + by[1]) });
  };
  const sunk = now ? live.at(wanted).y - live.at(now).y : 0;
  return (
    <div ref={ref} className="relative min-h-0 min-w-0 flex-1 overflow-hidden">
      <svg
        ref={drag.svg}
        width={width}
        height={height}
        role="group"
        aria-label="Anchors from the side"
        onPointerMove={drag.onPointerMove}
        onPointerCancel={drag.release}
        className="touch-none"
      >
        <Ground line={ground} width={width} height={height} />
        {used.map((feature) => {
          const spot = live.at({ x_m: feature.x_m, z_m: feature.z_m ?? 0 });
          return (
            <FromTheSide
              key={feature.id}
              kind={feature.kind}
              {...spot}
              foot={screenGround(ground, spot.x)}
              tall={Math.max(34, 0.7 * live.perMetre)}
            />
          );
        })}
        {arrangement.prop ? (
          <line
            x1={live.at({ x_m: arrangement.prop.foot.x_m, z_m: arrangement.prop.foot.z_m }).x}
            y1={live.at({ x_m: 0, z_m: arrangement.prop.foot.z_m }).y}
            x2={at.x}
            y2={at.y}
            stroke="var(--ink)"
            strokeWidth={5}
          />
        ) : null}
        {report?.legs.map((leg) => {
          const end = live.at(leg.end);
          const from = leg.behind ? live.at(leg.start) : at;
          const pull = removal ? removal.forces[leg.index] : leg.force;
          const dead = gone === leg.index;
          return (
            <line
              key={leg.index}
              x1={from.x}
              y1={from.y}
              x2={end.x}
              y2={end.y}
              stroke={dead ? "var(--ink)" : "var(--over)"}
              strokeWidth={dead ? 1.5 : ropeWidth(pull?.expected ?? 0)}
              strokeDasharray={dead ? "2 7" : pull && pull.expected < 1 ? "9 6" : ""}
            />
          );
        })}
        {arrangement.set_down && now ? (
          <line
            x1={at.x}
            y1={at.y}
            x2={live.at(wanted).x}
            y2={live.at(wanted).y}
            stroke="var(--over)"
            strokeWidth={ropeWidth(report?.pull?.expected ?? 0)}
          />
        ) : null}
        {tip && report?.pull ? (
          <g pointerEvents="none">
            <line
              x1={at.x}
              y1={at.y}
              x2={tip.x}
              y2={tip.y}
              stroke="var(--over)"
              strokeWidth={ropeWidth(report.pull.expected)}
            />
            <Tag
              x={Math.min(tip.x, width - 48)}
              y={Math.min(tip.y + 24, height - 14)}
              text={`${shown(report.pull, settings).value} ${settings.force}`}
              size={15}
            />
          </g>
        ) : null}
        <g
          role="slider"
          tabIndex={0}
          aria-label="Raise or lower the working point"
          aria-valuenow={wanted.z_m}
          aria-valuetext={`${wanted.z_m} m high`}
          className="cursor-move"
          onPointerDown={
            canEdit ? drag.grab((to) => onMovePoint({ x_m: toReach(to.x_m), z_m: toReach(to.z_m) })) : undefined
          }
          onPointerUp={drag.release}
          onKeyDown={keys}
        >
          <circle cx={set.x} cy={set.y} r={22} fill="transparent" className="focus-ring" />
          <circle cx={set.x} cy={set.y} r={7} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.5} />
        </g>
        {now && Math.abs(sunk) > 1 ? <circle cx={at.x} cy={at.y} r={4} fill="var(--over)" /> : null}
        <Scalebar perMetre={live.perMetre} height={height} />
      </svg>
    </div>
  );
}

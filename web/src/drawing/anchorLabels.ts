/** What is named on the anchors seen from above, with how much on it, and where it may stand. */
import type { ArrangementReport, Document, Figure, LegReport } from "../api/types";
import type { Settings } from "../ui/settings";
import { degrees, digits, shown } from "../ui/format";
import type { Label } from "./Labels";
import type { Spot } from "./labels";

/** A leg as it is drawn, with what pulls on it. */
export interface DrawnLeg {
  leg: LegReport;
  from: Spot;
  to: Spot;
  pull: Figure | undefined;
}

interface Drawn {
  document: Document;
  report: ArrangementReport | null;
  legs: DrawnLeg[];
  /** The leg that is gone, where one is. */
  gone: number | null;
  removed: boolean;
  at: (spot: { x_m: number; y_m: number }) => Spot;
  arrow: Spot;
  worstTip: Spot | null;
  width: number;
  height: number;
  settings: Settings;
}

export function anchorLabels(drawn: Drawn): Label[] {
  const { document, report, legs, gone, removed, at, arrow, worstTip, width, height, settings } = drawn;
  const worst_rad = report?.sweep?.worst_rad ?? 0;
  const found: Label[] = [];
  if (report?.available && report.pull) {
    found.push({
      id: "pull",
      text: `${shown(report.pull, settings).value} ${settings.force}`,
      tag: true,
      at: arrow,
      spots: [
        [0, -32],
        [0, 32],
        [20, -22],
        [20, 22],
        [14, 0],
      ],
    });
    if (worstTip)
      found.push({
        id: "worst",
        text: `worst ${worst_rad > 0 ? "+" : "−"}${degrees(Math.abs(worst_rad))}`,
        at: worstTip,
        spots: [
          [12, 0],
          [0, 20],
          [0, -20],
        ],
      });
  }
  for (const { leg, from, to, pull } of legs) {
    if (!pull || gone === leg.index) continue;
    const { value, unit } = shown(pull, settings);
    const share = removed ? "" : `, ${digits(leg.share.expected)} %`;
    const before = removed ? `, was ${shown(leg.force, settings).value}` : "";
    found.push({
      id: `leg${leg.index}`,
      text: pull.expected < 1 ? `slack${before}` : `${value} ${unit}${share}${before}`,
      tag: true,
      at: { x: from.x + (to.x - from.x) * 0.45, y: from.y + (to.y - from.y) * 0.45 },
      spots: [
        [0, 0],
        [0, -22],
        [0, 22],
        [14, -16],
        [-14, 16],
        [14, 16],
        [-14, -16],
      ],
      on: [`leg${leg.index}`],
    });
  }
  for (const feature of document.features)
    found.push({
      id: `f:${feature.id}`,
      text: `${feature.name}${feature.verdict === "reject" ? ", rejected" : ""}`,
      at: at({ x_m: feature.x_m, y_m: feature.y_m ?? 0 }),
      spots: [
        [0, -32],
        [0, 34],
        [-24, 0],
        [24, 0],
        [14, -24],
        [14, 24],
        [-14, -24],
        [-14, 24],
      ],
    });
  for (const edge of document.site.edges ?? []) {
    const x = at({ x_m: edge.x_m, y_m: 0 }).x;
    if (x < width - 4)
      found.push({
        id: `e:${edge.name}`,
        text: edge.name,
        at: { x, y: 14 },
        spots: [
          [-5, 0],
          [5, 0],
          [-5, height - 28],
        ],
      });
  }
  const line = at({ x_m: 0, y_m: 0 }).y;
  found.push({
    id: "fall",
    text: "fall line",
    at: { x: width - 34, y: line },
    spots: [
      [0, -12],
      [0, 14],
    ],
  });
  return found;
}

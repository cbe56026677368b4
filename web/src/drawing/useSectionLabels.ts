/** The labels of the section: what is named, with how much on it, and where it may stand. */
import { useMemo } from "react";
import type { Document, Point, Report } from "../api/types";
import { useSettings } from "../ui/settings";
import { anchorsOf, taken } from "../plan/document";
import { degrees, shown } from "../ui/format";
import type { Label } from "./Labels";
import type { Box, Spot } from "./labels";
import type { Stretch } from "./ropes";

export interface Scale {
  at: (point: Point) => Spot;
  back: (spot: Spot) => Point;
  perMetre: number;
}

export function useSectionLabels(document: Document, report: Report | null, all: Stretch[], scale: Scale): Label[] {
  const [settings] = useSettings();
  return useMemo(() => {
    const found: Label[] = [];
    const several = (report?.lines.length ?? 0) > 1;
    const mass = report?.site.load_mass;
    found.push({
      id: "load",
      bold: true,
      text: mass
        ? `${Math.round(mass.expected)} kg${mass.low === mass.high ? "" : ` (${Math.round(mass.low)} to ${Math.round(mass.high)})`}`
        : "load",
      at: scale.at(document.site.load_at),
      spots: [
        [30, -6],
        [30, -22],
        [-30, 22],
        [-34, 40],
        [-34, 58],
        [0, 34],
        [0, 52],
        [30, -6],
        [-30, 10],
        [-30, 28],
        [30, 18],
      ],
    });
    for (const one of all) {
      if (!one.strand?.tension) continue;
      const [a, b] = [scale.at(one.from), scale.at(one.to)];
      const { value, unit } = shown(one.strand.tension, settings);
      const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
      const name = several ? `${one.line.name.replace(" line", "")} ` : "";
      found.push({
        id: `t.${one.id}`,
        text: `${name}${value} ${unit}`,
        tag: true,
        at: middle,
        spots: [
          [16, -16],
          [14, -28],
          [24, -34],
          [-16, 24],
          [30, 6],
          [0, -40],
          [0, 40],
        ],
      });
    }
    const seen = new Set<string>();
    for (const line of report?.lines ?? [])
      for (const turn of line.turns) {
        const key = `${turn.at.x_m}.${turn.at.z_m}`;
        if (seen.has(key)) continue;
        seen.add(key);
        found.push({
          id: turn.node,
          text: `${turn.name}, ${degrees(turn.turn_rad)}`,
          at: scale.at(turn.at),
          spots: [
            [16, -10],
            [16, -28],
            [-14, 24],
            [18, 14],
            [-16, 44],
          ],
        });
      }
    for (const anchor of usedAnchors(document)) {
      const point = { x_m: taken(anchor).point?.x_m ?? 0, z_m: taken(anchor).point?.z_m ?? 0 };
      found.push({
        id: `anchor.${anchor.id}`,
        text: anchor.name,
        at: scale.at(point),
        spots: [
          [10, -20],
          [-10, -26],
          [0, 24],
          [10, 26],
          [10, -40],
          [-10, 40],
        ],
      });
    }
    return found;
  }, [document, report, all, scale, settings]);
}

export function marks(load: Spot, spots: Spot[], standing: Spot[], width: number, height: number): Box[] {
  return [
    { x: load.x - 26, y: load.y - 14, width: 52, height: 20 },
    ...standing.map((spot) => ({ x: spot.x - 10, y: spot.y - 30, width: 20, height: 36 })),
    ...spots.map((spot) => ({ x: spot.x - 8, y: spot.y - 8, width: 16, height: 16 })),
    { x: 10, y: height - 38, width: Math.min(150, width / 3), height: 36 },
  ];
}

export function usedAnchors(document: Document) {
  const named = new Set((document.lines ?? []).flatMap(anchorsOf));
  return document.anchors.filter((one) => named.has(one.id) || !named.size);
}

/** How far a finger may miss a corner: 22 pixels, less where the next one is near. */
export function reachOf(spot: Spot, all: Spot[]): number {
  const apart = all.map((one) => Math.hypot(one.x - spot.x, one.y - spot.y)).filter((far) => far > 2);
  return Math.max(9, Math.min(22, ...apart.map((far) => far / 2)));
}

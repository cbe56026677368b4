/** Questions asked of the plan document, and changes made to it, in more than one place. */
import type { Anchor, Arrangement, Document, Feature, Line, Rope } from "../api/types";

/** Where an arrangement stands in the document: its anchor, and the path of its fields. */
export interface Standing {
  anchor: Anchor;
  arrangement: Arrangement;
  path: string;
}

export function arrangements(document: Document): Standing[] {
  return document.anchors.flatMap((anchor, a) =>
    anchor.alternatives.map((arrangement, b) => ({
      anchor,
      arrangement,
      path: `anchors[${a}].alternatives[${b}]`,
    })),
  );
}

/** The arrangement of an anchor that is taken. */
export function taken(anchor: Anchor): Arrangement {
  return anchor.alternatives.find((one) => one.id === anchor.taken) ?? anchor.alternatives[0]!;
}

export function anchorById(document: Document, id: string | undefined): Anchor | undefined {
  return document.anchors.find((one) => one.id === id);
}

/** The anchor that the work starts from: the main line's, else the first. */
export function mainAnchor(document: Document): Anchor {
  return anchorById(document, mainLine(document)?.anchor) ?? document.anchors[0]!;
}

export function mainLine(document: Document): Line | undefined {
  return (document.lines ?? []).find((one) => one.role === "main");
}

/** The line that raises: one of its own, else the main line. */
export function haulingLine(document: Document): Line | undefined {
  const lines = document.lines ?? [];
  return lines.find((one) => one.role === "haul") ?? lines.find((one) => one.role === "main");
}

export function lineIndex(document: Document, id: string): number {
  return (document.lines ?? []).findIndex((one) => one.id === id);
}

/** The document with one line changed. */
export function withLine(document: Document, id: string, change: (line: Line) => Line): Document {
  return { ...document, lines: (document.lines ?? []).map((one) => (one.id === id ? change(one) : one)) };
}

/** The document without a line, and without a rope that was only on it. */
export function withoutLine(document: Document, id: string): Document {
  const gone = (document.lines ?? []).find((one) => one.id === id);
  return withoutIdle({ ...document, lines: (document.lines ?? []).filter((one) => one.id !== id) }, gone?.rope);
}

/** The document without a rope that nothing of it is of any more: no line or tension line, no strand of a haul, nothing that an anchor is tied with. */
export function withoutIdle(document: Document, rope: string | undefined): Document {
  const tied = arrangements(document).flatMap(({ arrangement: one }) => [
    ...one.legs,
    ...(one.ties ?? []),
    ...(one.set_down?.stages ?? []),
  ]);
  const lines = document.lines ?? [];
  const used = [
    ...[...lines, ...(document.tension_lines ?? []), ...tied].map((one) => one.rope),
    ...lines.map((one) => one.haul?.strands_of),
  ];
  return { ...document, ropes: (document.ropes ?? []).filter((one) => one.id !== rope || used.includes(one.id)) };
}

export function withAnchor(document: Document, id: string, change: (anchor: Anchor) => Anchor): Document {
  return { ...document, anchors: document.anchors.map((one) => (one.id === id ? change(one) : one)) };
}

/** The features that an arrangement pulls on, furthest back first. */
export function tiedTo(document: Document, arrangement: Arrangement): Feature[] {
  return document.features
    .filter((one) => arrangement.legs.some((leg) => leg.feature === one.id))
    .sort((a, b) => a.x_m - b.x_m);
}

/** Anchors that a line names, besides nobody else's. */
export function anchorsOf(line: Line): string[] {
  return [
    line.anchor,
    ...(line.redirects ?? []).map((one) => one.anchor),
    ...(line.haul?.redirects ?? []).map((one) => one.anchor),
    ...Object.values(line.haul?.anchors ?? {}),
  ];
}

/** Features that no anchor in use pulls on and nobody rejected. */
export function freeFeatures(document: Document): Feature[] {
  const used = new Set(document.anchors.flatMap((anchor) => taken(anchor).legs.map((leg) => leg.feature)));
  return document.features.filter((one) => !used.has(one.id) && one.verdict !== "reject" && one.kind !== "frame-foot");
}

export function fresh(stem: string, used: string[]): string {
  if (!used.includes(stem)) return stem;
  let number = 2;
  while (used.includes(`${stem}-${number}`)) number += 1;
  return `${stem}-${number}`;
}

/** A leg as it is usually begun: webbing wrapped 3, pulled 2, rope on from there. */
export const LEG = {
  method: "wrap-pull",
  material: "tubular-25",
  turns: 3,
  extension: "rope-11",
  extension_knot: "figure-eight-loop",
  extension_strands: 1,
};

/** A new anchor on one feature, its working point at a place. */
export function anchorOn(
  document: Document,
  feature: string,
  name: string,
  stem: string,
  point: { x_m: number; y_m: number; z_m: number },
): Anchor {
  const id = fresh(
    stem,
    document.anchors.map((one) => one.id),
  );
  const made = fresh(
    `${id}-first`,
    arrangements(document).map((one) => one.arrangement.id),
  );
  const arrangement: Arrangement = {
    id: made,
    name: document.features.find((one) => one.id === feature)?.name ?? feature,
    scheme: "single",
    point,
    legs: [{ ...LEG, feature }],
    connector: "steel",
    swing_rad: Math.PI / 36,
    slider: "carabiner",
    ties: [],
    locked: false,
  };
  return { id, name, alternatives: [arrangement], taken: made };
}

export function round(metres: number): number {
  return Math.round(metres * 20) / 20;
}

/** A main line as it is first laid: tied to the load, and nothing else yet. */
export function bareLine(id: string, rope: string, anchor: string): Line {
  return {
    id,
    role: "main",
    rope,
    end: "first",
    anchor,
    redirects: [],
    tail_m: 5,
    load_knot: "figure-eight-loop",
    load_connector: "alloy-b",
    load_connector_crowded: false,
    load_connector_loaded: "along",
    load_parts: [],
    slack_m: 0,
    lowering: null,
    haul: null,
    belay: null,
  };
}

/** A rope of which nothing is known but its kind and length. */
export function bareRope(id: string, kind: string, length_m: number): Rope {
  return { id, kind, length_m, glazed: false, joins: [], damage: [], kept: [] };
}

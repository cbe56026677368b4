/**
 * Places labels so that none covers another, lies on a line it does not name, or is cut at the border. Each tries its
 * own spots in order, then rings of spots further out; one that fits nowhere is left out.
 */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Line {
  id: string;
  a: Spot;
  b: Spot;
}

export interface Spot {
  x: number;
  y: number;
}

export interface Wanted {
  id: string;
  width: number;
  height: number;
  /** Centre points to try, best first. */
  spots: Spot[];
  /** Ids of the lines it may lie on. */
  on?: string[];
}

const RINGS = [30, 48];
const EDGE = 1;

function apart(a: Box, b: Box): boolean {
  return (
    a.x + a.width <= b.x + EDGE ||
    b.x + b.width <= a.x + EDGE ||
    a.y + a.height <= b.y + EDGE ||
    b.y + b.height <= a.y + EDGE
  );
}

function within(box: Box, bounds: Box): boolean {
  return (
    box.x >= bounds.x &&
    box.y >= bounds.y &&
    box.x + box.width <= bounds.x + bounds.width &&
    box.y + box.height <= bounds.y + bounds.height
  );
}

/** Whether a line runs through a box (Liang and Barsky's clipping). */
export function crosses({ a, b }: Line, box: Box): boolean {
  let [from, to] = [0, 1];
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  for (const [along, room] of [
    [-dx, a.x - box.x],
    [dx, box.x + box.width - a.x],
    [-dy, a.y - box.y],
    [dy, box.y + box.height - a.y],
  ] as const) {
    if (along === 0) {
      if (room < 0) return false;
    } else if (along < 0) from = Math.max(from, room / along);
    else to = Math.min(to, room / along);
    if (from > to) return false;
  }
  return true;
}

function* tries(label: Wanted): Generator<Spot> {
  yield* label.spots;
  const centre = label.spots[0];
  if (!centre) return;
  for (const ring of RINGS)
    for (let step = 0; step < 12; step += 1) {
      const angle = (step * Math.PI) / 6;
      yield { x: centre.x + (ring + label.width / 3) * Math.cos(angle), y: centre.y + ring * Math.sin(angle) };
    }
}

export function placeLabels(wanted: Wanted[], bounds: Box, taken: Box[] = [], lines: Line[] = []): Map<string, Box> {
  const placed = new Map<string, Box>();
  const solid = [...taken];
  for (const label of wanted)
    for (const spot of tries(label)) {
      const box = {
        x: spot.x - label.width / 2,
        y: spot.y - label.height / 2,
        width: label.width,
        height: label.height,
      };
      const free =
        within(box, bounds) &&
        solid.every((other) => apart(box, other)) &&
        lines.every((line) => label.on?.includes(line.id) || !crosses(line, box));
      if (!free) continue;
      placed.set(label.id, box);
      solid.push(box);
      break;
    }
  return placed;
}

/** Width of a text in the label face, near enough for placing it. */
export function textWidth(text: string, size: number): number {
  return text.length * size * 0.49 + 6;
}

/** A spot beside a point: dx and dy from it to the label's near side, for a label of a width. */
export function beside(from: Spot, dx: number, dy: number, width: number): Spot {
  return { x: from.x + (dx === 0 ? 0 : Math.sign(dx) * (Math.abs(dx) + width / 2)), y: from.y + dy };
}

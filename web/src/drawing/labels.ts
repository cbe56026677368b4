/** Places labels so that none covers another: each tries its spots in order and takes the first free one. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Wanted {
  id: string;
  width: number;
  height: number;
  /** Centre points to try, best first. */
  spots: { x: number; y: number }[];
}

function overlap(a: Box, b: Box): number {
  const width = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x);
  const height = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
  return width > 0 && height > 0 ? width * height : 0;
}

export function placeLabels(wanted: Wanted[], bounds: Box, taken: Box[] = []): Map<string, Box> {
  const placed = new Map<string, Box>();
  const solid = [...taken];
  for (const label of wanted) {
    let best: { box: Box; cost: number } | null = null;
    for (const [rank, spot] of label.spots.entries()) {
      const box = {
        x: Math.min(Math.max(spot.x - label.width / 2, bounds.x), bounds.x + bounds.width - label.width),
        y: Math.min(Math.max(spot.y - label.height / 2, bounds.y), bounds.y + bounds.height - label.height),
        width: label.width,
        height: label.height,
      };
      const cost = solid.reduce((sum, other) => sum + overlap(box, other), 0) + rank * 0.5;
      if (!best || cost < best.cost) best = { box, cost };
    }
    if (best) {
      placed.set(label.id, best.box);
      solid.push(best.box);
    }
  }
  return placed;
}

/** Width of a text in the label face, near enough for placing it. */
export function textWidth(text: string, size: number): number {
  return text.length * size * 0.47 + 4;
}

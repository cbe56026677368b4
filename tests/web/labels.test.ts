/** Labels of a drawing: none covers another, none is cut, none lies on a line that it does not name. */
import { describe, expect, it } from "vitest";
import { beside, crosses, placeLabels, textWidth, type Box, type Line, type Wanted } from "@/drawing/labels";

const SHEET: Box = { x: 0, y: 0, width: 600, height: 400 };

/** The same random numbers each time (mulberry32). */
function luck(seed: number): () => number {
  return () => {
    seed = (seed + 0x6d2b79f5) | 0;
    let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

function drawn(seed: number): { wanted: Wanted[]; lines: Line[] } {
  const next = luck(seed);
  const spot = () => ({ x: next() * SHEET.width, y: next() * SHEET.height });
  const lines = Array.from({ length: 6 }, (_, n) => ({ id: `line ${n}`, a: spot(), b: spot() }));
  const wanted = Array.from({ length: 25 }, (_, n) => ({
    id: `label ${n}`,
    width: 20 + next() * 90,
    height: 16,
    spots: [spot(), spot()],
    on: n % 5 ? [] : [`line ${n % 6}`],
  }));
  return { wanted, lines };
}

/** Whether some point of a line, of very many, lies in a box. */
function passes({ a, b }: Line, box: Box): boolean {
  for (let step = 0; step <= 500; step += 1) {
    const [x, y] = [a.x + ((b.x - a.x) * step) / 500, a.y + ((b.y - a.y) * step) / 500];
    if (x > box.x && x < box.x + box.width && y > box.y && y < box.y + box.height) return true;
  }
  return false;
}

describe("labels", () => {
  it("of a hundred random drawings lie apart, inside, and off every line but their own", () => {
    for (let seed = 0; seed < 100; seed += 1) {
      const { wanted, lines } = drawn(seed);
      const placed = [...placeLabels(wanted, SHEET, [], lines)];
      expect(placed.length).toBeGreaterThan(3);
      for (const [id, box] of placed) {
        expect(box.x).toBeGreaterThanOrEqual(0);
        expect(box.y + box.height).toBeLessThanOrEqual(SHEET.height);
        const own = wanted.find((one) => one.id === id)!.on!;
        expect(lines.filter((line) => !own.includes(line.id) && passes(line, box))).toEqual([]);
        for (const [other, taken] of placed)
          if (other !== id) {
            const wide = Math.min(box.x + box.width, taken.x + taken.width) - Math.max(box.x, taken.x);
            const high = Math.min(box.y + box.height, taken.y + taken.height) - Math.max(box.y, taken.y);
            expect(Math.min(wide, high)).toBeLessThanOrEqual(1);
          }
      }
    }
  });

  it("keep the best spot where nothing stands in the way, and the first asked for goes first", () => {
    const one = { id: "first", width: 40, height: 16, spots: [{ x: 100, y: 100 }] };
    const placed = placeLabels([one, { ...one, id: "second" }], SHEET);
    expect(placed.get("first")).toMatchObject({ x: 80, y: 92 });
    expect(placed.get("second")).not.toMatchObject({ x: 80, y: 92 });
  });

  it("that fit nowhere are left out, not laid over something", () => {
    const wide = { id: "wide", width: 700, height: 16, spots: [{ x: 300, y: 200 }] };
    expect(placeLabels([wide], SHEET).size).toBe(0);
  });

  it("are on a line or not as very many points of it say", () => {
    const next = luck(7);
    for (let n = 0; n < 400; n += 1) {
      const box = { x: next() * 400, y: next() * 300, width: 10 + next() * 80, height: 10 + next() * 40 };
      const line = { id: "", a: { x: next() * 600, y: next() * 400 }, b: { x: next() * 600, y: next() * 400 } };
      if (passes(line, box)) expect(crosses(line, box)).toBe(true);
      else
        expect(crosses(line, { x: box.x + 1, y: box.y + 1, width: box.width - 2, height: box.height - 2 })).toBe(false);
    }
  });

  it("stand beside their point by half their width", () => {
    expect(beside({ x: 50, y: 50 }, -8, 3, 40)).toEqual({ x: 22, y: 53 });
    expect(textWidth("1.4 kN", 14)).toBeGreaterThan(40);
  });
});

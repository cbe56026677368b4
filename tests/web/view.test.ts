/** Going into a drawing: the spot under the fingers stays, and nothing beyond the whole is ever shown. */
import { describe, expect, it } from "vitest";
import { moved, nearer, WHOLE } from "@/drawing/useView";

const size = { width: 900, height: 400 };
const seen = ({ times, x, y }: typeof WHOLE, p: { x: number; y: number }) => ({
  x: p.x * times + x,
  y: p.y * times + y,
});

describe("a drawing that one goes into", () => {
  it("keeps what lies under the fingers where it is", () => {
    const about = { x: 300, y: 250 };
    const view = nearer(nearer(WHOLE, 3, about, size), 2, about, size);
    expect(view.times).toBe(6);
    expect(seen(view, about)).toEqual(about);
  });

  it("never shows what lies beyond the whole, and never goes further out", () => {
    let view = WHOLE;
    let luck = 7;
    for (let step = 0; step < 500; step++) {
      luck = (luck * 16807) % 2147483647;
      const by = 0.4 + (luck % 1000) / 500;
      view = nearer(view, by, { x: luck % 900, y: luck % 400 }, size);
      view = moved(view, { x: (luck % 301) - 150, y: (luck % 211) - 100 }, size);
      expect(view.times).toBeGreaterThanOrEqual(1);
      const [first, last] = [seen(view, { x: 0, y: 0 }), seen(view, { x: size.width, y: size.height })];
      expect(Math.max(first.x, first.y)).toBeLessThanOrEqual(1e-6);
      expect(last.x).toBeGreaterThanOrEqual(size.width - 1e-6);
      expect(last.y).toBeGreaterThanOrEqual(size.height - 1e-6);
    }
    expect(nearer(view, 1e-6, { x: 5, y: 5 }, size)).toEqual({ times: 1, x: 0, y: 0 });
  });
});

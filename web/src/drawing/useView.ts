/** A drawing that one goes into: by two fingers, wheel, keys or a double touch; never further out than the whole. */
import { useGesture } from "@use-gesture/react";
import { useState, type KeyboardEvent, type RefObject } from "react";
import type { Spot } from "./labels";

/** What was drawn at `p` of the whole is seen at `p × times + shift`. */
export interface View {
  times: number;
  x: number;
  y: number;
}

export const WHOLE: View = { times: 1, x: 0, y: 0 };
const NEAREST = 16;
const A_STEP = 1.4;

/** The view `times` as near about a spot of the screen that stays where it is, kept over the whole. */
export function nearer(view: View, by: number, about: Spot, size: { width: number; height: number }): View {
  const times = Math.min(NEAREST, Math.max(1, view.times * by));
  const grown = times / view.times;
  return within({ times, x: about.x - (about.x - view.x) * grown, y: about.y - (about.y - view.y) * grown }, size);
}

export function moved(view: View, by: Spot, size: { width: number; height: number }): View {
  return within({ ...view, x: view.x + by.x, y: view.y + by.y }, size);
}

function within({ times, x, y }: View, { width, height }: { width: number; height: number }): View {
  const kept = (shift: number, room: number) => Math.min(0, Math.max(room * (1 - times), shift));
  return { times, x: kept(x, width), y: kept(y, height) };
}

export function useView(svg: RefObject<SVGSVGElement | null>, size: { width: number; height: number }) {
  const [view, look] = useState(WHOLE);
  const spot = (at: [number, number]): Spot => {
    const box = svg.current?.getBoundingClientRect();
    return { x: at[0] - (box?.left ?? 0), y: at[1] - (box?.top ?? 0) };
  };
  const centre = { x: size.width / 2, y: size.height / 2 };
  useGesture(
    {
      onPinch: ({ origin, delta: [grown], offset: [scale], event }) => {
        event.preventDefault();
        const before = scale - grown;
        if (before > 0) look((old) => nearer(old, scale / before, spot(origin), size));
      },
      onWheel: ({ event, delta: [, down] }) => {
        event.preventDefault();
        if (down) look((old) => nearer(old, Math.exp(-down / 400), spot([event.clientX, event.clientY]), size));
      },
      // What can be moved or opened has the finger for itself.
      onDrag: ({ event, delta: [x, y], pinching, cancel }) => {
        if (pinching || (event.target as Element).closest("[tabindex]")) return cancel();
        look((old) => moved(old, { x, y }, size));
      },
      onDoubleClick: ({ event }) => look((old) => nearer(old, 2, spot([event.clientX, event.clientY]), size)),
    },
    {
      target: svg,
      eventOptions: { passive: false },
      drag: { threshold: 5, pointer: { capture: false } },
      pinch: { scaleBounds: { min: 0.01, max: 100 } },
    },
  );
  const keys = (event: KeyboardEvent) => {
    const by = { "+": A_STEP, "=": A_STEP, "-": 1 / A_STEP }[event.key];
    if (by === undefined && event.key !== "0") return;
    event.preventDefault();
    event.stopPropagation();
    look((old) => (by ? nearer(old, by, centre, size) : WHOLE));
  };
  return { view, look, keys };
}

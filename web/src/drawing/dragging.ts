/** Things moved by finger or arrow keys: a short touch opens, a moved one drags. */
import { useRef, type KeyboardEvent, type PointerEvent } from "react";

const STILL_PX = 5;

/** Metres as a finger can set them: to 5 cm. */
export const toReach = (metres: number) => Math.round(metres * 20) / 20;

/** Handlers for the drawing (move, up) and for each thing in it (down). `scaleNow` gives the current scale's inverse. */
export function useDragging<P>(scaleNow: (x: number, y: number) => P) {
  const held = useRef<{
    back: (x: number, y: number) => P;
    move: (to: P) => void;
    from: { x: number; y: number };
    moved: boolean;
  } | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const place = (event: PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    return { x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) };
  };
  return {
    svg,
    /** Whether something is being dragged: the drawing then keeps its scale. */
    held,
    grab: (move: (to: P) => void) => (event: PointerEvent) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      held.current = { back: scaleNow, move, from: place(event), moved: false };
    },
    onPointerMove: (event: PointerEvent) => {
      const now = held.current;
      if (!now) return;
      const { x, y } = place(event);
      if (!now.moved && Math.hypot(x - now.from.x, y - now.from.y) < STILL_PX) return;
      now.moved = true;
      now.move(now.back(x, y));
    },
    /** Ends a touch; true when it was a drag, so that the click after it opens nothing. */
    release: () => {
      const moved = held.current?.moved ?? false;
      held.current = null;
      return moved;
    },
  };
}

/** Arrow keys as steps in metres: right and up positive. */
export function arrowStep(event: KeyboardEvent): [number, number] | null {
  const step = event.shiftKey ? 1 : 0.1;
  const by: Record<string, [number, number]> = {
    ArrowLeft: [-step, 0],
    ArrowRight: [step, 0],
    ArrowUp: [0, step],
    ArrowDown: [0, -step],
  };
  return by[event.key] ?? null;
}

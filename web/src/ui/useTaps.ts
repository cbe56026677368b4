/** Taps of several fingers at once: down and up together, and hardly moved. */
import { useRef, type TouchEvent } from "react";

const [SHORT_MS, STILL_PX] = [350, 14];

interface Tap {
  at: number;
  fingers: number;
  from: Map<number, [number, number]>;
  moved: boolean;
}

/** What a tap of so many fingers does. */
export function useTaps(does: Record<number, () => void>) {
  const tap = useRef<Tap | null>(null);
  return {
    onTouchStart: (event: TouchEvent) => {
      const now = (tap.current ??= { at: event.timeStamp, fingers: 0, from: new Map(), moved: false });
      now.fingers = Math.max(now.fingers, event.touches.length);
      for (const one of Array.from(event.changedTouches)) now.from.set(one.identifier, [one.clientX, one.clientY]);
    },
    onTouchMove: (event: TouchEvent) => {
      const now = tap.current;
      for (const one of Array.from(event.changedTouches)) {
        const from = now?.from.get(one.identifier);
        if (now && from && Math.hypot(one.clientX - from[0], one.clientY - from[1]) > STILL_PX) now.moved = true;
      }
    },
    onTouchEnd: (event: TouchEvent) => {
      const now = tap.current;
      if (!now || event.touches.length) return;
      tap.current = null;
      if (now.fingers > 1 && !now.moved && event.timeStamp - now.at < SHORT_MS) does[now.fingers]?.();
    },
    onTouchCancel: () => {
      tap.current = null;
    },
  };
}

/** What is drawn up from below: its first row always in view, the rest as far up as it was left. By drag, key or touch. */
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import { useSettings } from "./settings";

/** Below this share of the height it is down. */
const LEAST = 0.14;
const MOST = 0.86;
const STEP = 0.08;

interface Props {
  /** What it is called, and what it is remembered by. */
  name: string;
  /** How far up it is where it was never moved. */
  usual: number;
  /** How far up a touch draws it. */
  up?: number;
  /** Drawn up for somebody who is led to something in it. */
  drawUp?: boolean;
  /** As far up at least, while it is up: what is shown in it needs so much. */
  least?: number;
  /** In view, up or down. */
  summary?: (up: boolean) => ReactNode;
  children: ReactNode;
}

/** In a column beside what gives way to it. */
export function Drawer({ name, usual, up = 0.5, drawUp = false, least = 0, summary, children }: Props) {
  const [settings, set] = useSettings();
  const [moving, move] = useState<number | null>(null);
  const box = useRef<HTMLElement>(null);
  const from = useRef<{ y: number; share: number } | null>(null);
  const raised = Math.max(usual, up);
  const left = settings.drawn[name] ?? usual;
  const share = moving ?? (left ? Math.max(left, least) : 0);
  const leave = (to: number) =>
    set({ drawn: { ...settings.drawn, [name]: to < LEAST ? 0 : Math.min(MOST, Math.round(to * 1000) / 1000) } });
  const latest = useRef(leave);
  latest.current = leave;
  useEffect(() => {
    if (drawUp) latest.current(raised);
  }, [drawUp, raised]);
  const height = () => box.current?.parentElement?.clientHeight || 1;
  const begin = (event: PointerEvent) => {
    (event.target as Element).setPointerCapture(event.pointerId);
    from.current = { y: event.clientY, share };
  };
  const drag = (event: PointerEvent) => {
    if (!from.current) return;
    const to = from.current.share + (from.current.y - event.clientY) / height();
    if (moving !== null || Math.abs(event.clientY - from.current.y) > 6) move(Math.min(MOST, Math.max(0, to)));
  };
  const end = () => {
    if (!from.current) return;
    from.current = null;
    // A touch without a drag turns it.
    leave(moving ?? (share ? 0 : raised));
    move(null);
  };
  const keys = (event: KeyboardEvent) => {
    const to = { ArrowUp: share + STEP, ArrowDown: share - STEP, Home: 0, End: MOST }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    leave(to);
  };
  return (
    <section
      ref={box}
      aria-label={name}
      data-drawer={share ? "up" : "down"}
      className="flex min-h-0 flex-none flex-col border-t-2 border-ink bg-sheet"
      style={share ? { height: `${share * 100}%` } : undefined}
    >
      <div
        role="slider"
        tabIndex={0}
        aria-label={`${name}: draw it up or down`}
        aria-orientation="vertical"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(share * 100)}
        aria-valuetext={share ? "up" : "down"}
        className="flex h-6 flex-none cursor-ns-resize touch-none items-center justify-between px-3 select-none"
        onPointerDown={begin}
        onPointerMove={drag}
        onPointerUp={end}
        onPointerCancel={end}
        onKeyDown={keys}
      >
        <span className="w-24" />
        <span aria-hidden className="h-1.5 w-16 rounded bg-ink" />
        <span className="w-24 text-right font-label text-note whitespace-nowrap text-quiet">
          {name.toLowerCase()} <span aria-hidden>{share ? "▾" : "▴"}</span>
        </span>
      </div>
      {summary?.(share > 0)}
      {share ? <div className="flex min-h-0 flex-1 flex-col overflow-y-auto">{children}</div> : null}
    </section>
  );
}

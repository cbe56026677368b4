/** A knot as a rope of some thickness, drawn from behind to in front, so that what lies over hides what lies under; turned by the finger. */
import { useEffect, useRef, useState } from "react";
import type { KnotStrand } from "../api/types";
import { useSize } from "./useSize";

interface Props {
  strands: KnotStrand[];
  /** All that is ever drawn of it: the view keeps still from stage to stage. */
  whole: KnotStrand[];
  /** Pulls, each a place and a way. */
  arrows?: number[][];
  mirrored: boolean;
  behind: boolean;
  label: string;
  /** What changes with the palette. */
  night: boolean;
}

const THICK = 0.3;
const POST = 0.55;
/** So many places are drawn as one piece. */
const PIECE = 3;
const PER_PIXEL = 0.008;

const NONE: number[][] = [];

export function KnotDrawing({ strands, whole, arrows = NONE, mirrored, behind, label, night }: Props) {
  const [ref, { width, height }] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [turned, turn] = useState({ aside: 0, up: 0 });
  const held = useRef<{ x: number; y: number } | null>(null);
  useEffect(() => {
    const on = canvas.current;
    const pen = on?.getContext("2d");
    if (!on || !pen) return;
    const ratio = window.devicePixelRatio || 1;
    on.width = width * ratio;
    on.height = height * ratio;
    pen.scale(ratio, ratio);
    const aside = turned.aside + (behind ? Math.PI : 0);
    draw(pen, { strands, whole, arrows, mirrored, aside, up: turned.up, width, height });
  }, [strands, whole, arrows, mirrored, behind, turned, width, height, night]);
  const step = (aside: number, up: number) => turn((now) => ({ aside: now.aside + aside, up: now.up + up }));
  return (
    <div ref={ref} className="h-full min-h-64 touch-none bg-ground">
      <canvas
        ref={canvas}
        role="img"
        aria-label={label}
        tabIndex={0}
        data-testid="knot"
        data-turned={`${turned.aside.toFixed(2)} ${turned.up.toFixed(2)}`}
        style={{ width, height }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          held.current = { x: event.clientX, y: event.clientY };
        }}
        onPointerMove={(event) => {
          if (!held.current) return;
          step((event.clientX - held.current.x) * PER_PIXEL, (event.clientY - held.current.y) * PER_PIXEL);
          held.current = { x: event.clientX, y: event.clientY };
        }}
        onPointerUp={() => (held.current = null)}
        onKeyDown={(event) => {
          const ways: Record<string, [number, number]> = {
            ArrowLeft: [-0.2, 0],
            ArrowRight: [0.2, 0],
            ArrowUp: [0, -0.2],
            ArrowDown: [0, 0.2],
          };
          const way = ways[event.key];
          if (way) {
            event.preventDefault();
            step(...way);
          }
        }}
      />
    </div>
  );
}

interface View {
  strands: KnotStrand[];
  whole: KnotStrand[];
  arrows: number[][];
  mirrored: boolean;
  aside: number;
  up: number;
  width: number;
  height: number;
}

type Place = [number, number, number];

function draw(pen: CanvasRenderingContext2D, view: View) {
  const { width, height } = view;
  const style = getComputedStyle(document.documentElement);
  const ink = style.getPropertyValue("--ink");
  const colours = { rope: style.getPropertyValue("--sheet"), post: style.getPropertyValue("--line") };
  pen.clearRect(0, 0, width, height);
  const ropes = view.whole.filter((one) => !one.solid || short(one)).flatMap((one) => one.path as Place[]);
  const [left, right] = [Math.min(...ropes.map((p) => p[0])), Math.max(...ropes.map((p) => p[0]))];
  const [low, high] = [Math.min(...ropes.map((p) => p[1])), Math.max(...ropes.map((p) => p[1]))];
  const [midX, midY] = [(left + right) / 2, (low + high) / 2];
  const scale = Math.min((width - 40) / (right - left + 0.6), (height - 60) / (high - low + 0.6));
  const [ca, sa, cu, su] = [Math.cos(view.aside), Math.sin(view.aside), Math.cos(view.up), Math.sin(view.up)];
  const seen = (p: Place): Place => {
    const [x, y, z] = [(p[0] - midX) * (view.mirrored ? -1 : 1), p[1] - midY, p[2]];
    const [x1, z1] = [ca * x + sa * z, ca * z - sa * x];
    return [width / 2 + scale * x1, height / 2 - scale * (cu * y - su * z1), su * y + cu * z1];
  };
  const pieces: { depth: number; solid: boolean; path: Place[]; ends: boolean }[] = [];
  const named: { text: string; at: Place; from: Place }[] = [];
  for (const strand of view.strands) {
    const path = (strand.path as Place[]).map(seen);
    for (let n = 0; n < path.length - 1; n += PIECE - 1) {
      const piece = path.slice(n, n + PIECE + 1);
      const depth = piece.reduce((sum, p) => sum + p[2], 0) / piece.length;
      pieces.push({ depth, solid: strand.solid, path: piece, ends: n === 0 || n + PIECE >= path.length });
    }
    const [first, last] = strand.ends;
    named.push({ text: first ?? "", at: path[0]!, from: path[1]! });
    named.push({ text: last ?? "", at: path.at(-1)!, from: path.at(-2)! });
  }
  pieces.sort((a, b) => a.depth - b.depth);
  pen.lineJoin = "round";
  for (const piece of pieces) {
    const wide = scale * (piece.solid ? POST : THICK);
    pen.beginPath();
    piece.path.forEach(([x, y], n) => (n ? pen.lineTo(x, y) : pen.moveTo(x, y)));
    pen.lineCap = "butt";
    pen.strokeStyle = ink;
    pen.lineWidth = wide;
    pen.stroke();
    pen.lineCap = piece.ends ? "butt" : "round";
    pen.strokeStyle = piece.solid ? colours.post : colours.rope;
    pen.lineWidth = Math.max(1, wide - 3.5);
    pen.stroke();
  }
  name(pen, named, ink, view);
  pen.strokeStyle = pen.fillStyle = style.getPropertyValue("--over");
  for (const [x, y, z, dx, dy, dz] of view.arrows as [number, number, number, number, number, number][])
    arrow(pen, seen([x, y, z]), seen([x + dx, y + dy, z + dz]), view);
}

/** What goes on beyond the drawing, a post or a rope, is drawn as far as there is room. */
const SHORT = 7;

function short(one: KnotStrand): boolean {
  const [xs, ys] = [one.path.map((p) => p[0]!), one.path.map((p) => p[1]!)];
  return Math.max(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)) < SHORT;
}

const ARROW = 46;
const HEAD = 14;

/** A pull, from where it takes hold on outwards, within the drawing. */
function arrow(pen: CanvasRenderingContext2D, [x, y]: Place, [u, v]: Place, view: View) {
  const long = Math.max(1, Math.hypot(u - x, v - y));
  const [ax, ay] = [(u - x) / long, (v - y) / long];
  const [tipX, tipY] = [
    Math.max(6, Math.min(view.width - 6, x + ARROW * ax)),
    Math.max(6, Math.min(view.height - 6, y + ARROW * ay)),
  ];
  pen.lineWidth = 6;
  pen.lineCap = "butt";
  pen.beginPath();
  pen.moveTo(tipX - ARROW * ax, tipY - ARROW * ay);
  pen.lineTo(tipX - HEAD * ax, tipY - HEAD * ay);
  pen.stroke();
  pen.beginPath();
  pen.moveTo(tipX, tipY);
  pen.lineTo(tipX - HEAD * ax - HEAD * 0.7 * ay, tipY - HEAD * ay + HEAD * 0.7 * ax);
  pen.lineTo(tipX - HEAD * ax + HEAD * 0.7 * ay, tipY - HEAD * ay - HEAD * 0.7 * ax);
  pen.fill();
}

/** What each end is, beside it, within the drawing. */
function name(
  pen: CanvasRenderingContext2D,
  named: { text: string; at: Place; from: Place }[],
  ink: string,
  view: View,
) {
  pen.fillStyle = ink;
  pen.font = '600 16px "Barlow Semi Condensed", sans-serif';
  pen.textAlign = "center";
  const taken: [number, number][] = [];
  for (const { text, at, from } of named) {
    if (!text) continue;
    const level = Math.abs(at[0] - from[0]) > Math.abs(at[1] - from[1]);
    const half = pen.measureText(text).width / 2 + 4;
    const x = Math.max(half, Math.min(view.width - half, at[0]));
    let y = Math.max(16, Math.min(view.height - 6, at[1] + (level ? -16 : at[1] > from[1] ? 20 : -10)));
    while (taken.some(([u, v]) => Math.abs(u - x) < 2 * half && Math.abs(v - y) < 18)) y += y > 40 ? -18 : 18;
    taken.push([x, y]);
    pen.fillText(text, x, y);
  }
}

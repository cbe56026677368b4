/** The marks both drawings share: overprinted figures, touchable parts, what sits at a bend. */
import type { KeyboardEvent, ReactNode } from "react";

/** Rope width in pixels for a tension in newtons. */
export function ropeWidth(tension: number): number {
  return 2.5 + Math.min(7, tension / 700);
}

/** A figure overprinted in a frame, centred on (x, y). */
export function Tag({ x, y, text, size = 16 }: { x: number; y: number; text: string; size?: number }) {
  const width = text.length * size * 0.5 + 14;
  return (
    <g pointerEvents="none">
      <rect
        x={x - width / 2}
        y={y - size * 0.72}
        width={width}
        height={size * 1.44}
        rx={2}
        fill="var(--tint)"
        stroke="var(--over)"
      />
      <text x={x} y={y + size * 0.35} fontSize={size} fontWeight={600} textAnchor="middle" fill="var(--over)">
        {text}
      </text>
    </g>
  );
}

export function tagWidth(text: string, size = 16): number {
  return text.length * size * 0.5 + 14;
}

/** A part of the drawing that opens by touch or key. */
export function Touch({ label, onOpen, children }: { label: string; onOpen: () => void; children: ReactNode }) {
  const key = (event: KeyboardEvent) => {
    if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      onOpen();
    }
  };
  return (
    <g role="button" tabIndex={0} aria-label={label} onClick={onOpen} onKeyDown={key} className="cursor-pointer">
      {children}
    </g>
  );
}

/** What sits at a bend, drawn as the thing: sheave on its axle, a connector's gate, a bight of sling, or nothing said. */
export function BendMark({ x, y, kind }: { x: number; y: number; kind: string }) {
  const ink = { fill: "var(--sheet)", stroke: "var(--ink)", strokeWidth: 2.5 };
  if (kind === "carabiner")
    return (
      <g>
        <path d={`M${x - 8} ${y - 13} h9 a9 9 0 0 1 9 9 v8 a9 9 0 0 1 -9 9 h-9 z`} {...ink} />
        <path d={`M${x - 8} ${y - 6} v12`} stroke="var(--ink)" strokeWidth={5} />
      </g>
    );
  if (kind === "slick-sling")
    return (
      <g>
        <circle cx={x} cy={y} r={12} {...ink} strokeDasharray="6 3" />
        <circle cx={x} cy={y} r={5} fill="var(--ink)" />
      </g>
    );
  if (kind === "unknown")
    return (
      <g>
        <circle cx={x} cy={y} r={13} {...ink} stroke="var(--over)" strokeDasharray="4 4" />
        <text x={x} y={y + 6} fontSize={17} fontWeight={600} textAnchor="middle" fill="var(--over)">
          ?
        </text>
      </g>
    );
  return (
    <g>
      <circle cx={x} cy={y} r={13} {...ink} />
      {kind === "ball-bearing-pulley" ? (
        <circle cx={x} cy={y} r={7} fill="none" stroke="var(--ink)" strokeDasharray="2 2" strokeWidth={3} />
      ) : null}
      <circle cx={x} cy={y} r={2.5} fill="var(--ink)" />
    </g>
  );
}

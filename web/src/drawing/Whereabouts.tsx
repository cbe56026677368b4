/** The whole ground, small, and which part of it is looked at; touched, it leads back to the whole. */
import type { Spot } from "./labels";
import type { View } from "./useView";

interface Props {
  /** The ground as it lies on the whole drawing. */
  ground: Spot[];
  view: View;
  width: number;
  height: number;
  onWhole: () => void;
}

const WIDE = 132;

export function Whereabouts({ ground, view, width, height, onWhole }: Props) {
  const by = WIDE / width;
  const part = { x: -view.x / view.times, y: -view.y / view.times, w: width / view.times, h: height / view.times };
  return (
    <button
      type="button"
      aria-label={`The whole drawing again: ${view.times.toFixed(1)} times as near now`}
      className="absolute right-2 bottom-2 min-h-11 border-2 border-ink bg-sheet"
      onClick={onWhole}
    >
      <svg width={WIDE} height={height * by} aria-hidden className="block">
        <polyline
          points={ground.map(({ x, y }) => `${x * by},${y * by}`).join(" ")}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={1.5}
        />
        <rect
          x={part.x * by}
          y={part.y * by}
          width={part.w * by}
          height={part.h * by}
          fill="var(--over)"
          fillOpacity={0.2}
          stroke="var(--over)"
          strokeWidth={2}
        />
      </svg>
    </button>
  );
}

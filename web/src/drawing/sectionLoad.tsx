/** The load on the section: as it is, where it would stop, that it falls, how far it hangs, and what it hangs in. */
import type { Point, Spot as Place, StateReport, Strand } from "../api/types";
import { useSettings } from "../ui/settings";
import { shown } from "../ui/format";
import type { Spot } from "./labels";
import { Touch } from "./marks";
import { RopeLine } from "./ropes";

export function Litter({ at, faint }: { at: Spot; faint?: boolean }) {
  return (
    <path
      d={`M${at.x - 22} ${at.y - 11} H${at.x + 22} L${at.x + 17} ${at.y + 3} H${at.x - 17} Z`}
      fill={faint ? "none" : "var(--sheet)"}
      stroke={faint ? "var(--over)" : "var(--ink)"}
      strokeDasharray={faint ? "5 4" : undefined}
      strokeWidth={2.5}
    />
  );
}

/** The load where it would stop, and how far that is. */
export function Dropped({ from, to, metres }: { from: Spot; to: Spot; metres: number }) {
  const [settings] = useSettings();
  const { value, unit } = shown({ low: metres, expected: metres, high: metres, unit: "m" }, settings);
  // A drop too short to be seen to scale is shown as long as it can be.
  const far = Math.max(Math.hypot(to.x - from.x, to.y - from.y), 18);
  const angle = Math.atan2(to.y - from.y, to.x - from.x);
  const end = { x: from.x + far * Math.cos(angle), y: from.y + far * Math.sin(angle) };
  return (
    <g pointerEvents="none" data-testid="dropped">
      <Litter at={end} faint />
      <text x={end.x - 28} y={end.y + 6} fontSize={16} fontWeight={600} textAnchor="end" fill="var(--over)">
        {value} {unit} further
      </text>
    </g>
  );
}

export function Falls({ from }: { from: Spot }) {
  return (
    <g pointerEvents="none" data-testid="falls">
      <path
        d={`M${from.x} ${from.y + 12} v34 m-10 -12 l10 14 l10 -14`}
        fill="none"
        stroke="var(--over)"
        strokeWidth={4}
      />
      <text x={from.x - 18} y={from.y + 40} fontSize={17} fontWeight={600} textAnchor="end" fill="var(--over)">
        falls
      </text>
    </g>
  );
}

/** A haul system that hangs over its load: its strands side by side between the blocks. */
export function HungSystem({
  state,
  at,
  onStrand,
  straight,
}: {
  state: StateReport | null;
  at: (point: Point) => Spot;
  onStrand: (strand: Strand) => void;
  straight: boolean;
}) {
  const [settings] = useSettings();
  if (!state || !straight) return null;
  const place = new Map(state.nodes.map((node) => [node.id, node.at] as [string, Place]));
  const hung = state.strands.filter((one) => !one.rope.endsWith("cord") && !one.slack);
  if (hung.length < 3) return null;
  const drawn = hung.flatMap((strand, index) => {
    const [from, to] = [place.get(strand.start), place.get(strand.end)];
    if (!from || !to) return [];
    const shift = (index - (hung.length - 1) / 2) * 13;
    const [a, b] = [at(from), at(to)];
    return [{ strand, index, top: { x: a.x + shift, y: a.y }, low: { x: b.x + shift, y: b.y } }];
  });
  const ends = drawn.flatMap(({ top, low }) => [top, low]);
  const [left, right] = [Math.min(...ends.map(({ x }) => x)) - 6, Math.max(...ends.map(({ x }) => x)) + 6];
  const levels = [Math.min(...ends.map(({ y }) => y)), place.has("load") ? at(place.get("load")!).y : 0];
  return (
    <>
      {drawn.map(({ strand, index, top, low }) => {
        const words = strand.tension ? `${shown(strand.tension, settings).value} ${settings.force}` : "slack";
        return (
          <Touch key={strand.id} label={`Hung strand ${index + 1}, ${words}`} onOpen={() => onStrand(strand)}>
            <line
              x1={top.x}
              y1={top.y}
              x2={low.x}
              y2={low.y}
              stroke="transparent"
              strokeWidth={12}
              className="focus-ring"
            />
            <RopeLine
              a={top}
              b={low}
              role="main"
              tension={strand.tension?.expected ?? null}
              slack={strand.slack}
              runs={strand.runs === "to-end" ? "ahead" : strand.runs === "to-start" ? "back" : ""}
            />
          </Touch>
        );
      })}
      {levels.map((y) => (
        <line key={y} x1={left} x2={right} y1={y} y2={y} stroke="var(--ink)" strokeWidth={5} strokeLinecap="round" />
      ))}
    </>
  );
}

/** Dimension line of the drop, clear of the load and its label. */
export function Drop({
  bottom,
  metres,
  perMetre,
  width,
}: {
  bottom: Spot;
  metres: number;
  perMetre: number;
  width: number;
}) {
  const [settings] = useSettings();
  const { value, unit } = shown({ low: metres, expected: metres, high: metres, unit: "m" }, settings);
  const x = bottom.x + 190;
  const top = bottom.y - metres * perMetre;
  if (bottom.y - top < 50 || x > width - 70) return null;
  return (
    <g fill="none" stroke="var(--quiet)" strokeWidth={1.5} pointerEvents="none">
      <path d={`M${x - 7} ${top} h14 M${x} ${top} V${bottom.y} M${x - 7} ${bottom.y} h14`} />
      <text x={x + 12} y={(top + bottom.y) / 2 + 5} fontSize={15} stroke="none" fill="var(--ink)">
        {value} {unit} drop
      </text>
    </g>
  );
}

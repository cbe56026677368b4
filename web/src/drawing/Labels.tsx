/** The labels of a drawing: figures overprinted in frames, names in ink, placed by one engine. */
import { useMemo } from "react";
import { beside, placeLabels, textWidth, type Box, type Line, type Spot, type Wanted } from "./labels";
import { Tag, tagWidth } from "./marks";

export interface Label {
  id: string;
  text: string;
  /** A figure that the engine computed, overprinted; else a name. */
  tag?: boolean;
  bold?: boolean;
  at: Spot;
  /** Places to try from `at`, best first. */
  spots: [number, number][];
  on?: string[];
}

interface Props {
  labels: Label[];
  bounds: { width: number; height: number };
  taken: Box[];
  lines: Line[];
}

const SIZE = 15;

export function Labels({ labels, bounds, taken, lines }: Props) {
  const placed = useMemo(() => {
    const wanted: Wanted[] = labels.map((one) => {
      const width = one.tag ? tagWidth(one.text, SIZE) : textWidth(one.text, SIZE);
      const spots = one.spots.map(([dx, dy]) => beside(one.at, dx, dy, width));
      return { id: one.id, width, height: one.tag ? 24 : 20, spots, ...(one.on ? { on: one.on } : {}) };
    });
    return placeLabels(wanted, { x: 3, y: 3, width: bounds.width - 6, height: bounds.height - 6 }, taken, lines);
  }, [labels, bounds.width, bounds.height, taken, lines]);
  return labels.map(({ id, text, tag, bold }) => {
    const box = placed.get(id);
    if (!box) return null;
    return tag ? (
      <Tag key={id} x={box.x + box.width / 2} y={box.y + 12} text={text} size={SIZE} />
    ) : (
      <text
        key={id}
        x={box.x + 3}
        y={box.y + 15}
        fontSize={SIZE}
        fontWeight={bold ? 600 : 400}
        fill="var(--ink)"
        pointerEvents="none"
        stroke="var(--sheet)"
        strokeWidth={3}
        paintOrder="stroke"
        data-label={id}
      >
        {text}
      </text>
    );
  });
}

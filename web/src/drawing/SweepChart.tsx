/** How the load moves from leg to leg as the pull swings: one line a leg, straight pull in the middle. */
import type { ArrangementReport } from "../api/types";
import { useSettings } from "../ui/settings";
import { degrees, shown } from "../ui/format";
import { placeLabels, textWidth } from "./labels";
import { useSize } from "./useSize";

const HEIGHT = 150;
const DASHES = ["", "10 5", "3 4", "14 4 3 4", "6 3", "1 5", "18 6", "8 2 2 2"];

export function SweepChart({ report }: { report: ArrangementReport }) {
  const [ref, { width }] = useSize<HTMLDivElement>();
  const [settings] = useSettings();
  const sweep = report.sweep;
  const [first, last] = [sweep?.offsets_rad[0], sweep?.offsets_rad.at(-1)];
  if (!sweep || first === undefined || last === undefined || first === last) return null;
  const most = Math.max(...sweep.forces_n.flat(), 1);
  const [left, right] = [56, width - 170];
  const x = (offset: number) => left + ((offset - first) / (last - first)) * (right - left);
  const y = (force: number) => 14 + (1 - force / most) * (HEIGHT - 40);
  const said = (force: number) => shown({ low: force, expected: force, high: force, unit: "N" }, settings);
  const ends = sweep.forces_n.map((forces) => y(forces.at(-1) ?? 0));
  const names = report.legs.map((leg, index) => `${leg.name} ${said(sweep.forces_n[index]?.at(-1) ?? 0).value}`);
  const labels = placeLabels(
    names.map((name, index) => ({
      id: `${index}`,
      width: textWidth(name, 14),
      height: 16,
      spots: [0, -9, 9, -17, 17, 26, -26].map((off) => ({
        x: right + 8 + textWidth(name, 14) / 2,
        y: ends[index]! + off,
      })),
    })),
    { x: right + 6, y: 2, width: 164, height: HEIGHT - 26 },
  );
  return (
    <figure ref={ref} className="mt-2">
      <figcaption className="font-semibold">What each leg sees as the pull swings, {settings.force}</figcaption>
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Pull swung ${degrees(first)} to ${degrees(last)}: ${names.join(", ")} at the end`}
      >
        {[0, most / 2, most].map((force) => (
          <g key={force}>
            <line x1={left} x2={right} y1={y(force)} y2={y(force)} stroke="var(--line)" />
            <text x={left - 8} y={y(force) + 5} fontSize={14} textAnchor="end" fill="var(--ink)">
              {said(force).value}
            </text>
          </g>
        ))}
        {[first, 0, last].map((offset) => (
          <g key={offset}>
            <line
              x1={x(offset)}
              x2={x(offset)}
              y1={14}
              y2={HEIGHT - 24}
              stroke={offset === 0 ? "var(--ink)" : "var(--line)"}
            />
            <text x={x(offset)} y={HEIGHT - 6} fontSize={14} textAnchor="middle" fill="var(--ink)">
              {offset === 0 ? "straight" : `${offset > 0 ? "+" : "−"}${degrees(Math.abs(offset))}`}
            </text>
          </g>
        ))}
        {sweep.forces_n.map((forces, leg) => (
          <polyline
            key={leg}
            points={forces.map((force, index) => `${x(sweep.offsets_rad[index] ?? 0)},${y(force)}`).join(" ")}
            fill="none"
            stroke="var(--over)"
            strokeWidth={2.5}
            strokeDasharray={DASHES[leg % DASHES.length]}
          />
        ))}
        {[...labels].map(([id, box]) => (
          <text key={id} x={box.x} y={box.y + 13} fontSize={14} fill="var(--over)">
            {names[Number(id)]}
          </text>
        ))}
      </svg>
    </figure>
  );
}

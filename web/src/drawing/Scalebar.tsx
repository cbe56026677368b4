/** A scale bar at the lower left, of a round length. */
import { useSettings } from "../ui/settings";
import { unitOf } from "../ui/format";

export function Scalebar({ perMetre, height }: { perMetre: number; height: number }) {
  const [settings] = useSettings();
  const { name, si } = unitOf("m", settings);
  const long = [1, 2, 5, 10, 20, 50, 100, 200, 500].find((one) => one * si * perMetre > 60) ?? 1000;
  const size = long * si * perMetre;
  return (
    <g transform={`translate(18 ${height - 14})`} fill="none" stroke="var(--ink)" strokeWidth={2}>
      <path d={`M0 -5 V5 M0 0 H${size} M${size} -5 V5`} />
      <text
        x={size / 2}
        y={-8}
        fontSize={15}
        textAnchor="middle"
        fill="var(--ink)"
        stroke="var(--ground)"
        strokeWidth={4}
        paintOrder="stroke"
      >
        {long} {name}
      </text>
    </g>
  );
}

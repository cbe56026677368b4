/** The ground from the side, hatched, through points of the screen and level on to both rims of the drawing. */
interface Props {
  line: { x: number; y: number }[];
  width: number;
  height: number;
}

export function Ground({ line, width, height }: Props) {
  const [first, last] = [line[0], line.at(-1)];
  if (!first || !last) return null;
  const along = line.map(({ x, y }) => `L${x} ${y}`).join(" ");
  return (
    <>
      <defs>
        <pattern id="soil" width={14} height={14} patternUnits="userSpaceOnUse" patternTransform="rotate(35)">
          <line x1={0} y1={0} x2={0} y2={6} stroke="var(--quiet)" strokeWidth={1} opacity={0.5} />
        </pattern>
      </defs>
      {["var(--ground)", "url(#soil)"].map((fill) => (
        <path key={fill} d={`M0 ${height} V${first.y} ${along} H${width} V${height} Z`} fill={fill} />
      ))}
      <path d={`M0 ${first.y} ${along} H${width}`} fill="none" stroke="var(--ink)" strokeWidth={2} />
    </>
  );
}

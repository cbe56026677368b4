/** A scene from the side as its numbers make it, each number at what it measures; before they are given, as one usually looks. */
import type { Point } from "../../api/types";
import { SCENES, sceneOf, type Given, type NumberId, type SceneId } from "./scenes";

const [WIDTH, HEIGHT, ROOM] = [420, 260, 40];

interface Props {
  scene: SceneId;
  numbers: Given["numbers"];
  /** As a small mark, without figures. */
  small?: boolean;
}

export function SceneDrawing({ scene, numbers, small }: Props) {
  const asks = SCENES.find((one) => one.id === scene)!.asks;
  const usual = Object.fromEntries(asks.map((one) => [one.id, one.usual[Math.floor(one.usual.length / 2)]!]));
  const given = Object.fromEntries(Object.entries(numbers).filter(([, one]) => one !== undefined));
  const made = sceneOf(scene, { ...usual, ...given })!;
  const room = small ? 18 : ROOM;
  const all = [...made.profile, ...made.anchors, made.load];
  const [xs, zs] = [all.map((one) => one.x_m), all.map((one) => one.z_m)];
  const [left, top] = [Math.min(...xs), Math.max(...zs)];
  const [wide, high] = [Math.max(...xs) - left, top - Math.min(...zs)];
  const per = Math.min((WIDTH - 2 * room) / Math.max(1, wide), (HEIGHT - 2 * room) / Math.max(1, high));
  const aside = (WIDTH - 2 * room - wide * per) / 2;
  const at = ({ x_m, z_m }: Point) => ({ x: room + aside + (x_m - left) * per, y: room + (top - z_m) * per });
  const spots = made.profile.map(at);
  const ground = spots.map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`).join(" ");
  const [first, last] = [spots[0]!, spots.at(-1)!];
  const load = at(made.load);
  const anchors = made.anchors.map(at);
  const stroke = small ? 6 : 2;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full"
      role={small ? undefined : "img"}
      aria-hidden={small || undefined}
      aria-label={small ? undefined : `The ${scene} from the side: ${words(asks, numbers)}`}
    >
      {scene === "snow" ? <Snow /> : null}
      <polygon
        points={`${ground} ${last.x},${HEIGHT} ${first.x},${HEIGHT}`}
        fill={scene === "snow" ? "url(#snow)" : "var(--ground)"}
      />
      <polyline points={ground} fill="none" stroke="var(--ink)" strokeWidth={stroke} strokeLinejoin="round" />
      <polyline
        points={[...anchors.slice(0, 1), ...over(made.profile, scene).map(at), anchors[1] ?? load]
          .map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`)
          .join(" ")}
        fill="none"
        stroke="var(--over)"
        strokeWidth={small ? 6 : 3}
      />
      {anchors.map(({ x, y }) => (
        <circle key={x} cx={x} cy={y} r={small ? 10 : 6} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={stroke} />
      ))}
      <path
        d={
          small ? `M${load.x - 24} ${load.y - 18} h48 l-8 20 h-32 Z` : `M${load.x - 13} ${load.y - 9} h26 l-4 10 h-18 Z`
        }
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth={stroke}
      />
      {small
        ? null
        : asks.map((one) => {
            const spot = at(middle(one.id, scene, made));
            const given = numbers[one.id];
            return (
              <text
                key={one.id}
                x={Math.min(WIDTH - 44, Math.max(44, spot.x + (BESIDE[one.id]?.[0] ?? 0)))}
                y={Math.min(HEIGHT - 8, Math.max(18, spot.y + (BESIDE[one.id]?.[1] ?? 0)))}
                fontSize={18}
                textAnchor="middle"
                fill="var(--ink)"
                stroke="var(--sheet)"
                strokeWidth={4}
                paintOrder="stroke"
                fontWeight={given === undefined ? 400 : 600}
              >
                {given === undefined ? "?" : given}
                {one.unit === "°" ? "°" : ` ${one.unit}`}
              </text>
            );
          })}
    </svg>
  );
}

/** Snow is drawn as flakes on white, ground as ground. */
function Snow() {
  return (
    <defs>
      <pattern id="snow" width="26" height="26" patternUnits="userSpaceOnUse">
        <path
          d="M6 2v10M1.7 4.5l8.6 5M1.7 9.5l8.6-5M19 15v10M14.7 17.5l8.6 5M14.7 22.5l8.6-5"
          stroke="var(--quiet)"
          fill="none"
        />
      </pattern>
    </defs>
  );
}

/** Where the rope bends on its way to the load. */
function over(profile: Point[], scene: SceneId): Point[] {
  return scene === "lift" || scene === "crossing" ? [] : [profile[1]!];
}

/** Beside what it measures, in the drawing's own units. */
const BESIDE: Partial<Record<NumberId, [number, number]>> = {
  edge: [0, -12],
  drop: [36, 0],
  angle: [46, 22],
  length: [34, -16],
  width: [0, -14],
  higher: [-30, -12],
  deep: [0, -12],
};

function middle(id: NumberId, scene: SceneId, made: NonNullable<ReturnType<typeof sceneOf>>): Point {
  const [here, far] = [made.anchors[0]!, made.anchors[1]];
  const brink = made.profile[1]!;
  const between = (a: Point, b: Point) => ({ x_m: (a.x_m + b.x_m) / 2, z_m: (a.z_m + b.z_m) / 2 });
  if (id === "edge") return between(here, { x_m: brink.x_m, z_m: here.z_m });
  if (id === "drop") return between(scene === "lift" ? here : brink, made.load);
  if (id === "angle") return brink;
  if (id === "length") return between(brink, made.load);
  if (id === "width") return between(here, far ?? here);
  if (id === "higher") return far ?? here;
  return between(made.profile[2]!, made.profile[3]!);
}

function words(asks: (typeof SCENES)[number]["asks"], numbers: Given["numbers"]): string {
  return asks.map((one) => `${one.label} ${numbers[one.id] ?? "not said"} ${one.unit}`).join(", ");
}

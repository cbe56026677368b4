/** What own pulls say beside the catalogue: two bars on one scale, the catalogue's above. */
import type { OwnRange as Told, Range } from "../../api/types";

export function OwnRange({ one, children }: { one: Told; children?: React.ReactNode }) {
  const most = Math.max(one.before_n?.high ?? 0, one.own_n?.high ?? 0) * 1.05;
  return (
    <li className="border-b border-line py-2" data-range={one.name}>
      <p className="leading-snug font-semibold">{one.name}</p>
      <dl className="mt-1 grid grid-cols-[7rem_minmax(0,1fr)_9rem] items-center gap-x-3 gap-y-1 narrow:grid-cols-[6rem_minmax(0,1fr)]">
        <Bar name={`${one.gives}, catalogue`} range={one.before_n} text={one.before_text} most={most} />
        <Bar name={`Ours, ${one.count_text}`} range={one.own_n} text={one.own_text} most={most} own />
      </dl>
      {one.says.map((text) => (
        <p key={text} className="mt-1 text-over">
          ◇ {text}
        </p>
      ))}
      {children}
    </li>
  );
}

interface BarProps {
  name: string;
  range: Range | null;
  text: string;
  most: number;
  own?: boolean;
}

function Bar({ name, range, text, most, own }: BarProps) {
  const at = (value: number) => `${(100 * value) / most}%`;
  return (
    <>
      <dt className="font-label">{name}</dt>
      <dd className="relative h-5 border-b border-line" aria-hidden>
        {range ? (
          <>
            <span
              className={`absolute top-1 h-3 ${own ? "bg-ink" : "border-[1.5px] border-ink bg-sheet"}`}
              style={{ left: at(range.low), width: at(range.high - range.low) }}
            />
            <span
              className={`absolute top-0 h-5 w-[2px] ${own ? "bg-sheet" : "bg-ink"}`}
              style={{ left: at(range.expected) }}
            />
          </>
        ) : null}
      </dd>
      <dd className="text-answer font-semibold tabular-nums narrow:col-span-full">{text}</dd>
    </>
  );
}

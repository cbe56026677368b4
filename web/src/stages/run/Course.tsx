/** Who is busy when, from now until the load is up: what takes longest stands out. */
import type { RunOut } from "../../api/types";

type Timing = RunOut["operation"]["timing"];

const STEPS_MIN = [5, 10, 15, 30, 60, 120];
const MARKS = 5;

export function Course({ timing }: { timing: Timing }) {
  const until = Math.max(timing.until_min.expected, 1);
  const shown = timing.people
    .map((one) => ({ ...one, stretches: one.stretches.filter((stretch) => stretch.begins_min < until) }))
    .filter((one) => one.stretches.length);
  const apart = STEPS_MIN.find((one) => until / one <= MARKS) ?? 240;
  const marks = Array.from({ length: Math.floor(until / apart) + 1 }, (_, n) => n * apart);
  const at = (minutes: number) => `${(100 * Math.min(minutes, until)) / until}%`;
  return (
    <section aria-label="Who is busy when" className="mt-3" data-testid="course">
      <div className="relative ml-28 h-6 max-sm:ml-0" aria-hidden>
        {marks.map((one) => (
          <span
            key={one}
            className={`absolute font-label whitespace-nowrap text-quiet ${one ? "-translate-x-1/2" : ""}`}
            style={{ left: at(one) }}
          >
            {one ? `${one}${one === marks.at(-1) ? " min" : ""}` : "now"}
          </span>
        ))}
      </div>
      <ul>
        {shown.map((one) => (
          <li key={one.name} className="flex items-center py-1 max-sm:block">
            <span className="w-28 shrink-0 truncate pr-2 font-semibold" title={one.name}>
              {one.name || "Somebody"}
            </span>
            <ul className="relative h-9 flex-1">
              {marks.map((mark) => (
                <li key={mark} aria-hidden className="absolute -inset-y-1 w-px bg-line" style={{ left: at(mark) }} />
              ))}
              {one.stretches.map((stretch) => (
                <li
                  key={`${stretch.begins_min} ${stretch.text}`}
                  className={`absolute inset-y-0 flex flex-wrap overflow-hidden border-2 px-1 leading-8 whitespace-nowrap ${
                    stretch.longest ? "border-over bg-tint" : "border-ink bg-film"
                  }`}
                  style={{ left: at(stretch.begins_min), right: `calc(100% - ${at(stretch.ends_min)})` }}
                  title={said(stretch)}
                  aria-label={said(stretch)}
                >
                  {/* Words that do not fit wrap out of sight: half a word says nothing. */}
                  <span aria-hidden className="h-8 w-0" />
                  <span aria-hidden>{stretch.text}</span>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
      <p className="font-label text-quiet">
        <span className="mr-1 inline-block size-3 border-2 border-over bg-tint align-middle" aria-hidden /> takes
        longest: all is late if this is. {timing.whose}
      </p>
    </section>
  );
}

function said(one: Timing["people"][number]["stretches"][number]): string {
  const [from, to] = [Math.round(one.begins_min), Math.round(one.ends_min)];
  return `${one.text}, minute ${from} to ${to}${one.longest ? ", takes longest" : ""}`;
}

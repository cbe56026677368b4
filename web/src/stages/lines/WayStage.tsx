/** The whole way: the load run from start to top and back, what each place asks, and where something comes to something. */
import { useEffect, useRef, useState } from "react";
import { Radio, RadioGroup } from "@headlessui/react";
import type { Catalogue, Way, WayJob } from "../../api/types";
import { useSettings } from "../../ui/settings";
import type { OpenPlan } from "../../plan/usePlan";
import { WayStrip } from "../../drawing/WayStrip";
import { shown, unbroken } from "../../ui/format";
import { TensionTools } from "./TensionTools";

const STEP_MS = 140;

interface Props {
  way: Way;
  job: WayJob;
  /** Number of the place that is looked at. */
  place: number;
  onPlace: (place: number) => void;
}

interface Others {
  open: OpenPlan;
  catalogue: Catalogue;
  /** The line whose way is shown: a tension line's id, or null for the line that lowers and raises. */
  line: string | null;
  onLine: (line: string | null) => void;
}

export function WayStage({ way, job, place, onPlace, open, catalogue, line, onLine }: Props & Others) {
  const [playing, play] = useState(false);
  const [settings] = useSettings();
  const last = way.places.length - 1;
  const down = job.job === "lowering";
  const along = job.job === "crossing";
  const step = down ? -1 : 1;
  const mine = way.events.filter((event) => event.job === job.job);
  const stops = mine.filter((event) => event.kind !== "reset").map((event) => nearest(way, event.run_m));
  const at = useRef(place);
  at.current = place;
  const stopped = useRef(stops);
  stopped.current = stops;
  const goTo = useRef(onPlace);
  goTo.current = onPlace;
  useEffect(() => {
    if (!playing) return;
    const timer = window.setInterval(() => {
      const next = at.current + step;
      if (next < 0 || next > last) return play(false);
      goTo.current(next);
      // Where a knot arrives the run stands still: there is something to do.
      if (stopped.current.includes(next)) play(false);
    }, STEP_MS);
    return () => window.clearInterval(timer);
  }, [playing, step, last]);
  const ended = down ? place === 0 : place === last;
  const run = way.places[place];
  const metres = (value: number) =>
    unbroken(spelt(shown({ low: value, expected: value, high: value, unit: "m" }, settings)));
  const far = way.places[last]?.run_m ?? 0;
  const done = run ? (down ? far - run.run_m : run.run_m) : 0;
  return (
    <section aria-label="The whole way" className="flex flex-col px-1 pb-2">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-3 pt-1">
        <button
          type="button"
          className="button min-w-24"
          onClick={() => {
            if (ended && !playing) onPlace(down ? last : 0);
            play(!playing);
          }}
        >
          {playing
            ? "Stop"
            : ended && !along
              ? `Play again, ${down ? "down" : "up"}`
              : along
                ? "Play it across"
                : `Play it ${down ? "down" : "up"}`}
        </button>
        <p className="text-answer font-semibold text-over" data-testid="way-here" aria-live="polite">
          {metres(done)} {along ? "along" : down ? "down" : "up"}
          <span className="font-label font-normal text-ink">
            {" "}
            of {metres(far)}
            {along ? "" : `; rope out ${metres(run?.line_m ?? 0)}`}
          </span>
        </p>
        {(open.document.tension_lines ?? []).length ? (
          <RadioGroup
            value={line}
            onChange={onLine}
            aria-label="Whose way"
            className="flex flex-wrap gap-1 font-label text-base"
          >
            {[
              ...((open.document.lines ?? []).length ? [{ id: null, name: "Main line" }] : []),
              ...(open.document.tension_lines ?? []).map((one) => ({ id: one.id, name: `Tension line ${one.id}` })),
            ].map((one) => (
              <Radio
                key={one.id ?? ""}
                value={one.id}
                className="flex min-h-11 cursor-pointer items-center rounded-[3px] px-3 data-checked:bg-ink data-checked:text-sheet"
              >
                {one.name}
              </Radio>
            ))}
          </RadioGroup>
        ) : null}
        {job.worst.map((worst) => (
          <button
            key={worst.text}
            type="button"
            className={`min-h-11 text-left font-label text-base leading-tight underline ${worst.below ? "font-semibold text-over" : ""}`}
            onClick={() => onPlace(worst.place)}
          >
            {worst.below ? "◆ " : "◇ "}
            {unbroken(worst.text)}
          </button>
        ))}
      </div>
      {along && line ? <TensionTools open={open} catalogue={catalogue} line={line} onLine={onLine} /> : null}
      <WayStrip way={way} job={job} place={place}>
        <input
          type="range"
          min={0}
          max={last}
          step={1}
          value={down ? last - place : place}
          aria-label="Where the load is on its way"
          aria-valuetext={`${metres(done)} ${along ? "along" : down ? "down" : "up"}`}
          className="way-slider"
          onChange={(event) => onPlace(down ? last - Number(event.target.value) : Number(event.target.value))}
        />
      </WayStrip>
      {along ? null : <Events way={way} job={job} place={place} onPlace={onPlace} />}
    </section>
  );
}

/** What comes to what, in the order of the job; touching one goes there. */
function Events({ way, job, place, onPlace }: Props) {
  const mine = way.events.filter((event) => event.job === job.job && event.kind !== "reset");
  if (!mine.length) return <p className="px-3 font-label">No join and no knot comes to anything on this way.</p>;
  return (
    <ul aria-label="What comes to what" className="grid gap-x-2 px-3 xl:grid-cols-2">
      {mine.map((event) => {
        const to = nearest(way, event.run_m);
        return (
          <li key={event.text}>
            <button
              type="button"
              aria-current={to === place || undefined}
              className={`flex min-h-11 w-full flex-wrap items-baseline gap-x-3 border-l-4 px-2.5 py-1 text-left leading-tight hover:bg-film ${
                to === place ? "border-over bg-tint font-semibold" : "border-line"
              }`}
              onClick={() => onPlace(to)}
            >
              <span className="text-body">{unbroken(event.text)}</span>
              <span className="font-label text-over">{event.asks}</span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}

function nearest(way: Way, run: number): number {
  const apart = way.places.map((one) => Math.abs(one.run_m - run));
  return apart.indexOf(Math.min(...apart));
}

function spelt({ value, unit }: { value: string; unit: string }): string {
  return `${value} ${unit}`;
}

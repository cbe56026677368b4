/** One entry whole: when, by whom, why, what else was considered, its seal, and the plan as it was. */
import type { Entry } from "../../api/types";
import { clock, day } from "../../ui/format";
import { Small } from "../../ui/Small";
import { KIND } from "./kinds";

/** A device whose clock is further off than this is said. */
const CLOCK_MS = 2000;

interface Props {
  entry: Entry;
  plan: string;
  onStep: (step: string) => void;
  onRevision: (number: number) => Promise<void>;
  onCorrect: ((entry: Entry) => void) | null;
}

export function EntryOpened({ entry, plan, onStep, onRevision, onCorrect }: Props) {
  const ahead = entry.device_ahead_ms ?? 0;
  return (
    <article aria-label={`Entry ${entry.sequence}`} className="flex flex-wrap items-start gap-x-4 gap-y-2 px-4 pb-2">
      <div className="min-w-60 flex-1">
        <p className={`text-answer leading-snug font-semibold break-words ${entry.kind === "stop" ? "text-over" : ""}`}>
          {entry.kind === "stop" ? "◆ " : ""}
          {entry.decision}
        </p>
        {entry.reason ? <p className="break-words">because {entry.reason}</p> : null}
        {entry.considered ? (
          <p className="font-label whitespace-pre-line text-quiet">Considered: {entry.considered}</p>
        ) : null}
        {entry.corrects ? <p className="font-label text-quiet">Puts right entry {entry.corrects_sequence}</p> : null}
        {entry.kind === "photo" ? <Small plan={plan} entry={entry} /> : null}
        <p className="font-label text-note text-quiet">
          {day(entry.time)}, {clock(entry.time)}, {entry.author}, {KIND[entry.kind]}
          {Math.abs(ahead) > CLOCK_MS
            ? `, device clock ${Math.round(Math.abs(ahead) / 1000)} s ${ahead > 0 ? "ahead" : "behind"}`
            : ""}
          . Entry {entry.sequence}, sealed {entry.hash.slice(0, 12)}
        </p>
      </div>
      <div className="flex flex-wrap gap-2">
        <button type="button" className="button" onClick={() => void onRevision(entry.revision)}>
          Plan as it was, revision {entry.revision}
        </button>
        {entry.step ? (
          <button type="button" className="button" onClick={() => onStep(entry.step)}>
            all of step {entry.step}
          </button>
        ) : null}
        {onCorrect ? (
          <button type="button" className="button" onClick={() => onCorrect(entry)}>
            Correct
          </button>
        ) : null}
      </div>
    </article>
  );
}

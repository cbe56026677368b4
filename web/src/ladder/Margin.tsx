/** The load path as a margin of marks: ground above, casualty below, each with its ratio. Touched, it opens. */
import type { Finding, Rung, StateReport } from "../api/types";
import { digits } from "../ui/format";
import { LEVEL } from "../ui/levels";
import { isDoubtful, ratio, RungMark } from "./RungMark";

interface Props {
  state: StateReport;
  findings: Finding[];
  onOpen: () => void;
}

export function Margin({ state, findings, onOpen }: Props) {
  const rungs = state.available ? [...state.rungs].reverse() : [];
  const weakest = rungs.find((one) => one.id === state.weakest);
  const counts = (["stop", "look", "note"] as const)
    .map((level) => [level, findings.filter((one) => one.level === level).length] as const)
    .filter(([, count]) => count);
  const words = weakest ? `, weakest ${weakest.name}, ${ratio(weakest)}` : "";
  return (
    <button
      type="button"
      aria-label={`Open the load path: ${rungs.length} parts${words}`}
      className="flex h-full w-full flex-col overflow-x-hidden overflow-y-auto px-1 pb-1 text-left hover:bg-film"
      onClick={onOpen}
    >
      <span className="flex min-h-6 items-center justify-between font-label text-note text-quiet">
        path <span aria-hidden>◂</span>
      </span>
      {counts.length ? (
        <span className="flex flex-wrap gap-x-1.5 border-b border-line pb-1 font-label text-note">
          {counts.map(([level, count]) => (
            <span key={level} className={level === "stop" ? "font-semibold text-over" : ""}>
              {LEVEL[level].mark}
              {count}
            </span>
          ))}
        </span>
      ) : null}
      {rungs.map((rung) => (
        <Mark key={rung.id} rung={rung} weakest={rung.id === state.weakest} />
      ))}
    </button>
  );
}

function Mark({ rung, weakest }: { rung: Rung; weakest: boolean }) {
  return (
    <span
      data-rung={rung.id}
      className={`flex max-h-11 min-h-[1.2rem] flex-1 items-center gap-1.5 text-answer leading-none whitespace-nowrap ${isDoubtful(rung) ? "text-over" : ""} ${weakest ? "font-semibold" : ""}`}
    >
      <svg width={16} height={16} aria-hidden className="flex-none">
        <RungMark rung={rung} weakest={weakest} at={{ x: 8, y: 8 }} reach={6.6} />
      </svg>
      {rung.margin ? digits(rung.margin.low) : rung.verdict === "unknown" ? "?" : "–"}
    </span>
  );
}

/** The stages in the order of the work, in a row under the thumb, each with what is still open in it. */
import { Link } from "react-router";
import type { Plan, WholeReport } from "../api/types";
import type { CheckOf } from "../plan/useCheck";

const STAGES = [
  ["size-up", "Size-up"],
  ["anchors", "Anchors"],
  ["lines", "Lines"],
  ["best", "Best"],
  ["check", "Check"],
  ["run", "Run"],
  ["log", "Log"],
] as const;

interface Props {
  plan: Plan;
  stage: string;
  whole: WholeReport | null;
  found: CheckOf | null;
  /** Entries of the log, and those that are still on this device. */
  log: { entries: number; unsent: number };
}

/** What is still open in the check: every line that nobody has signed as it is now. */
function signedOf(found: CheckOf | null): [string, boolean] {
  if (!found) return ["", false];
  const left = found.all.length - found.answered;
  const { stops } = found.check;
  if (stops) return [`◆ ${stops} ${stops === 1 ? "stop" : "stops"}`, true];
  return [left ? `${left} open` : "all signed", false];
}

export function Stages({ plan, stage, whole, found, log }: Props) {
  const noteOf = (id: string): [string, boolean] => {
    if (id === "check") return signedOf(found);
    if (id === "log" && log.unsent) return [`◆ ${log.unsent} not sent`, true];
    if (id === "log") return [log.entries === 1 ? "1 entry" : `${log.entries} entries`, false];
    const open = whole?.open.find((one) => one.stage === id)?.items.length ?? 0;
    return [open ? `${open} open` : "", false];
  };
  return (
    <nav aria-label="Stages" className="flex min-w-0 flex-1 items-stretch gap-px narrow:basis-full">
      {STAGES.map(([id, name]) => {
        const [note, loud] = noteOf(id);
        const here = stage === id;
        return (
          <Link
            key={id}
            to={`/plans/${plan.id}/${id}`}
            aria-current={here ? "page" : undefined}
            className={`flex min-h-14 min-w-11 flex-1 flex-col items-center justify-center px-1 text-center leading-tight roomy:max-w-32 ${here ? "bg-ink text-sheet" : "hover:bg-sheet"}`}
          >
            <span className="font-semibold narrow:text-note">{name}</span>
            {note ? (
              <span
                className={`font-label text-mark ${loud ? "font-semibold" : ""} ${here ? "" : loud ? "text-over" : "text-quiet"}`}
              >
                {note}
              </span>
            ) : null}
          </Link>
        );
      })}
    </nav>
  );
}

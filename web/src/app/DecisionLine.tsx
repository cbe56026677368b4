/** What was decided, because of what: always in reach, kept with the plan as it is now. */
import { useState, type RefObject } from "react";
import { Link } from "react-router";
import type { Entry } from "../api/types";
import type { OpenPlan } from "../plan/usePlan";
import type { Offer } from "../plan/useDecided";
import { clock } from "../ui/format";
import { keep, kept } from "../device/small";

interface Props {
  open: OpenPlan;
  log: Entry[];
  field: RefObject<HTMLInputElement | null>;
  /** What was changed since the last decision, in the words that the log would keep; typing goes before it. */
  offer: Offer | null;
  /** Recorded: what is changed from here on is another decision. */
  onRecorded: () => void;
}

/** What stands in the line; `offered`: what was offered last. */
interface Said {
  decision: string;
  reason: string;
  offered: string;
}

const NOTHING: Said = { decision: "", reason: "", offered: "" };

/** Reasons that fit most changes, where the team has none of its own yet. */
const USUAL = ["less at the hands", "it is what is in the bags", "quicker"];
const PHRASES = 4;

/** What the team gave as reasons most often. */
function phrases(log: Entry[]): string[] {
  const counts = new Map<string, number>();
  for (const { reason } of log) if (reason && reason.length < 48) counts.set(reason, (counts.get(reason) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1]).map(([reason]) => reason);
}

export function DecisionLine({ open, log, field, offer, onRecorded }: Props) {
  const key = `outrigger.decision.${open.plan.id}`;
  const [said, setSaid] = useState<Said>(() => ({ ...NOTHING, ...kept<Partial<Said>>(sessionStorage, key, {}) }));
  const [typing, setTyping] = useState(false);
  const change = (part: Partial<Said>) => {
    const next = { ...said, ...part };
    keep(sessionStorage, key, next);
    setSaid(next);
  };
  const text = offer?.decision ?? "";
  // Nothing comes in under somebody's fingers; what they typed stays; an earlier offer gives way to the newer one.
  if (text !== said.offered && !typing)
    change({
      offered: text,
      decision: said.decision === "" || said.decision === said.offered ? text : said.decision,
    });
  const isOffer = text !== "" && said.decision === text;
  const reasons = [...new Set([...phrases(log).slice(0, 2), ...(offer?.answers ?? []), ...USUAL])].slice(0, PHRASES);
  const record = (reason: string) => {
    const considered = isOffer ? (offer?.considered ?? "") : "";
    open.record({ kind: "decision", decision: said.decision.trim(), reason: reason.trim(), considered });
    change({ decision: "", reason: "" });
    onRecorded();
  };
  const ready = said.decision.trim() !== "" && said.reason.trim() !== "";
  const last = log.at(-1);
  const waiting = open.waitingEntries.length;
  return (
    <form
      aria-label="Decision"
      className="border-t-2 border-ink bg-film px-4 pt-2 pb-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (!ready) return;
        record(said.reason);
      }}
    >
      <div className="flex flex-wrap items-center gap-2">
        <label className="flex min-w-56 flex-1 items-center max-md:basis-full gap-2">
          <span className="font-semibold">Decided</span>
          <input
            ref={field}
            className="field"
            value={said.decision}
            disabled={!open.canLog}
            maxLength={2000}
            onFocus={() => setTyping(true)}
            onBlur={() => setTyping(false)}
            onChange={(event) => change({ decision: event.target.value })}
          />
        </label>
        <label className="flex min-w-56 flex-[1.3] items-center max-md:basis-full gap-2">
          <span className="font-semibold">because</span>
          <input
            className="field"
            value={said.reason}
            disabled={!open.canLog}
            maxLength={2000}
            onChange={(event) => change({ reason: event.target.value })}
          />
        </label>
        <button
          type="submit"
          className="button button-main"
          disabled={!open.canLog || !ready}
          title={ready ? "" : "Write what was decided and why"}
        >
          Record
        </button>
      </div>
      {/* Of one height with reasons or without: what is offered a moment after a touch moves nothing under the next one. */}
      <div className="mt-1.5 flex h-12 items-center gap-3 font-label text-[15px]">
        {waiting ? (
          <b className="max-w-[50%] text-over">
            ◆ {waiting} {waiting === 1 ? "entry" : "entries"} kept on this device, not sent yet.
          </b>
        ) : null}
        {isOffer && open.canLog ? (
          <div
            role="group"
            aria-label="Reasons"
            className="flex min-w-0 flex-1 gap-2 overflow-x-auto"
            data-testid="reasons"
          >
            {reasons.map((one) => (
              <button
                key={one}
                type="button"
                className={`button max-w-[30rem] flex-none truncate px-3! font-normal! ${said.reason === one ? "button-main" : ""}`}
                aria-pressed={said.reason === one}
                title={one}
                onClick={() => change({ reason: one })}
              >
                because {one}
              </button>
            ))}
          </div>
        ) : (
          <p className="min-w-0 flex-1 truncate text-quiet" aria-live="polite">
            {last
              ? `Last, ${clock(last.time)}: ${last.decision}${last.reason ? `, because ${last.reason}` : ""}`
              : "Nothing decided yet."}
          </p>
        )}
        <Link
          to={`/plans/${open.plan.id}/log`}
          className="flex min-h-11 items-center font-semibold whitespace-nowrap underline"
        >
          Log, {log.length}
        </Link>
      </div>
    </form>
  );
}

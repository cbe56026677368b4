/** What was decided, because of what: always in reach, kept with the plan as it is now. */
import { useState, type RefObject } from "react";
import { Link } from "react-router";
import type { Entry } from "../api/types";
import type { OpenPlan } from "../plan/usePlan";
import { clock } from "../ui/format";

interface Props {
  open: OpenPlan;
  log: Entry[];
  field: RefObject<HTMLInputElement | null>;
  /** A change that was just made, in the words that the log would keep; typing goes before it. */
  offer: string | null;
}

export function DecisionLine({ open, log, field, offer }: Props) {
  const key = `outrigger.decision.${open.plan.id}`;
  const [said, setSaid] = useState<{ decision: string; reason: string }>(() =>
    JSON.parse(sessionStorage.getItem(key) ?? '{"decision":"","reason":""}'),
  );
  const change = (part: Partial<typeof said>) => {
    const next = { ...said, ...part };
    sessionStorage.setItem(key, JSON.stringify(next));
    setSaid(next);
  };
  const [offered, setOffered] = useState<string | null>(null);
  if (offer !== offered) {
    setOffered(offer);
    // What somebody is typing stays; an earlier offer gives way to the newer one.
    if (offer && (said.decision === "" || said.decision === offered)) change({ decision: offer });
  }
  const ready = said.decision.trim() !== "" && said.reason.trim() !== "";
  const last = log.at(-1);
  const waiting = open.waitingEntries.length;
  return (
    <form
      aria-label="Decision"
      className="border-t-2 border-ink bg-film px-4 pt-1.5 pb-2.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (!ready) return;
        open.record({ kind: "decision", decision: said.decision.trim(), reason: said.reason.trim(), considered: "" });
        change({ decision: "", reason: "" });
      }}
    >
      <div className="mb-1 flex items-baseline justify-between gap-4 font-label text-[15px]">
        <p className="min-w-0 truncate text-quiet" aria-live="polite">
          {waiting ? `◆ ${waiting} ${waiting === 1 ? "entry" : "entries"} kept on this device, not sent yet. ` : ""}
          {last
            ? `Last, ${clock(last.time)}: ${last.decision}${last.reason ? `, because ${last.reason}` : ""}`
            : "Nothing decided yet."}
        </p>
        <Link to={`/plans/${open.plan.id}/log`} className="font-semibold whitespace-nowrap underline">
          Log, {log.length}
        </Link>
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <label className="flex min-w-56 flex-1 items-center max-md:basis-full gap-2">
          <span className="font-semibold">Decided</span>
          <input
            ref={field}
            className="field"
            value={said.decision}
            disabled={!open.canLog}
            maxLength={2000}
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
    </form>
  );
}

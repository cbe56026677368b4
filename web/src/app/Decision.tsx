/** What was decided, because of what: one button until there is something to decide, kept with the plan as it is now. */
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { Entry } from "../api/types";
import type { OpenPlan } from "../plan/usePlan";
import type { Offer } from "../plan/useDecided";
import { clock } from "../ui/format";
import { keep, kept } from "../device/small";

interface Props {
  open: OpenPlan;
  log: Entry[];
  /** Whether it is opened; the button alone where not. */
  shown: boolean;
  onShow: (shown: boolean) => void;
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

export function Decision({ open, log, shown, onShow, offer, onRecorded }: Props) {
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
    onShow(false);
  };
  const ready = said.decision.trim() !== "" && said.reason.trim() !== "";
  const waiting = open.waitingEntries.length;
  const button = (
    <button
      type="button"
      className="button button-main flex-none narrow:basis-full roomy:min-h-14"
      aria-expanded={shown}
      onClick={() => onShow(!shown)}
    >
      {isOffer && open.canLog ? "◇ Decided …" : "Decided …"}
    </button>
  );
  if (!shown) return button;
  return (
    <>
      <form
        aria-label="Decision"
        className="absolute right-0 bottom-full z-30 flex max-h-[70vh] w-full max-w-3xl flex-col gap-2 overflow-y-auto border-2 border-ink bg-film p-3 shadow-xl hand-left:right-auto hand-left:left-0"
        onSubmit={(event) => {
          event.preventDefault();
          if (ready) record(said.reason);
        }}
      >
        <div className="flex items-center gap-2">
          <label className="w-20 font-semibold" htmlFor="decided">
            Decided
          </label>
          <Words
            value={said.decision}
            disabled={!open.canLog}
            onLeave={() => onShow(false)}
            onLeft={() => setTyping(false)}
            onChange={(decision) => {
              setTyping(true);
              change({ decision });
            }}
          />
        </div>
        {isOffer && open.canLog ? (
          <div role="group" aria-label="Reasons" className="flex flex-wrap gap-2" data-testid="reasons">
            {reasons.map((one) => (
              <button key={one} type="button" className="button font-normal" onClick={() => record(one)}>
                because {one}
              </button>
            ))}
          </div>
        ) : null}
        <div className="flex items-center gap-2 narrow:flex-wrap">
          <label className="flex min-w-0 flex-1 items-center gap-2 narrow:basis-full">
            <span className="w-20 font-semibold">because</span>
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
        <div className="flex items-center justify-between gap-3 font-label">
          <Last log={log} waiting={waiting} />
          <Link
            to={`/plans/${open.plan.id}/log`}
            className="flex min-h-11 items-center font-semibold whitespace-nowrap underline"
          >
            Log, {log.length}
          </Link>
        </div>
      </form>
      {button}
    </>
  );
}

function Last({ log, waiting }: { log: Entry[]; waiting: number }) {
  if (waiting)
    return (
      <b className="text-over">
        ◆ {waiting} {waiting === 1 ? "entry" : "entries"} kept on this device, not sent yet.
      </b>
    );
  const last = log.at(-1);
  return (
    <p className="text-quiet" aria-live="polite">
      {last
        ? `Last, ${clock(last.time)}: ${last.decision}${last.reason ? `, because ${last.reason}` : ""}`
        : "Nothing decided yet."}
    </p>
  );
}

/** Under the fingers as soon as it is opened. */
function Words(props: {
  value: string;
  disabled: boolean;
  onLeft: () => void;
  onLeave: () => void;
  onChange: (value: string) => void;
}) {
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus({ preventScroll: true }), []);
  return (
    <input
      ref={field}
      id="decided"
      className="field"
      value={props.value}
      disabled={props.disabled}
      maxLength={2000}
      onBlur={props.onLeft}
      onKeyDown={(event) => event.key === "Escape" && props.onLeave()}
      onChange={(event) => props.onChange(event.target.value)}
    />
  );
}

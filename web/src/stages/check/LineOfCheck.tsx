/** One line of the check: what, how much, why; its mends one touch away; accepted by whom; signed by whom. */
import { HowTied } from "../../ui/HowTied";
import type { CheckLine, Mend } from "../../api/types";
import type { CheckOf } from "../../plan/useCheck";
import type { OpenPlan } from "../../plan/usePlan";
import { unbroken } from "../../ui/format";
import { Mark, SignedMark } from "./marks";

interface Props {
  line: CheckLine;
  found: CheckOf;
  open: OpenPlan;
  /** Whether its part is the one taken away on the drawing. */
  shown: boolean;
  onMend: (mend: Mend) => void;
  onAccept: () => void;
  onWithdraw: () => void;
  onGone: (() => void) | null;
  /** To where the load is when it is so. */
  onPlace: (() => void) | null;
  onSign: ((line: string) => void) | null;
}

export function LineOfCheck({
  line,
  found,
  open,
  shown,
  onMend,
  onAccept,
  onWithdraw,
  onGone,
  onPlace,
  onSign,
}: Props) {
  const stop = line.level === "stop" && line.open;
  const quiet = line.level === "note";
  return (
    <li
      data-check={line.id}
      data-level={line.accepted ? "accepted" : line.level}
      className={`mb-1 grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 border-b border-line px-3 py-1 max-lg:grid-cols-[minmax(0,1fr)] ${
        stop ? "border-l-4 border-l-over bg-tint" : "border-l-4 border-l-transparent"
      }`}
    >
      <div className="min-w-0 self-center py-1">
        <p className={`leading-snug ${quiet ? "" : "text-answer font-semibold"} ${stop ? "text-over" : ""}`}>
          <Mark level={line.accepted ? "note" : line.level} />
          {unbroken(line.text)}
        </p>
        {line.accepted ? (
          <p className="leading-snug">
            Accepted by {line.accepted.by}: {line.accepted.reason}
          </p>
        ) : line.mend ? (
          <p className="leading-snug">
            {line.lapsed ? <b>It was accepted before what it hangs on changed. </b> : null}
            {unbroken(line.mend)}
          </p>
        ) : null}
        <p className="font-label text-note leading-snug text-quiet">{line.source}</p>
        <HowTied drawn={line.drawn} />
      </div>
      <div className="flex max-w-[26rem] flex-wrap items-center justify-end gap-2 max-lg:justify-start">
        {open.canEdit && !line.accepted
          ? line.mends.map((mend) => (
              <button key={mend.label} type="button" className="button px-3" onClick={() => onMend(mend)}>
                {unbroken(mend.label)}
              </button>
            ))
          : null}
        {open.canEdit && line.accepted ? (
          <button type="button" className="button px-3" onClick={onWithdraw}>
            Withdraw
          </button>
        ) : null}
        {open.canEdit && line.acceptable && line.open ? (
          <button type="button" className="button px-3" onClick={onAccept}>
            Accept…
          </button>
        ) : null}
        {onPlace ? (
          <button type="button" className="min-h-11 px-1 font-label underline" onClick={onPlace}>
            look there
          </button>
        ) : null}
        {onGone ? (
          <button type="button" className="min-h-11 px-1 font-label underline" aria-pressed={shown} onClick={onGone}>
            {shown ? "taken away" : "take it away"}
          </button>
        ) : null}
        {line.open ? null : <SignedMark line={line} found={found} onSign={onSign ? () => onSign(line.id) : null} />}
      </div>
    </li>
  );
}

/** Beside the check: a part taken away on the drawing, every part of the state, and the second person's name. */
import type { Document, Holds, Report, Revision, StateReport } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { Section } from "../../drawing/Section";
import type { CheckOf } from "../../plan/useCheck";
import { clock, said, unbroken } from "../../ui/format";

interface Props {
  document: Document;
  report: Report | null;
  state: StateReport | null;
  holds: Holds | null;
  onGone: (part: string | null) => void;
}

export function TakenAway({ document, report, state, holds, onGone }: Props) {
  const [settings] = useSettings();
  const gone = holds?.gone ?? null;
  return (
    <>
      <div className="flex min-h-11 items-center justify-between gap-2 px-4 pt-1">
        <h2 className="min-w-0 font-semibold">{gone ? `Taken away: ${gone.name}` : "Take a part away"}</h2>
        {gone ? (
          <button type="button" className="button px-3" onClick={() => onGone(null)}>
            Put it back
          </button>
        ) : (
          <span className="font-label text-quiet">{state?.name.toLowerCase()}</span>
        )}
      </div>
      <div className="flex h-[262px] border-b border-line">
        <Section
          document={document}
          report={report}
          state={state}
          span={null}
          gone={gone}
          shaping={false}
          canEdit={false}
          onEdit={() => {}}
          onStrand={(strand) => onGone(strand.rope)}
          onEdge={(crossing) => (crossing.role === "edge" ? undefined : onGone(crossing.node))}
        />
      </div>
      {gone ? (
        <div role="status" data-testid="gone" className="border-l-4 border-over bg-tint px-4 py-1.5">
          <p className={`text-body leading-snug ${gone.further_m === null ? "font-semibold text-over" : ""}`}>
            {gone.further_m === null ? "◆" : "◇"} {unbroken(gone.text)}
          </p>
          {gone.pulls.map((pull) => (
            <p key={pull.piece} className="flex justify-between gap-2 leading-snug">
              <span>{pull.name}, at rest</span>
              <b className="whitespace-nowrap text-over">
                {said({ low: pull.force_n, expected: pull.force_n, high: pull.force_n, unit: "N" }, settings)}
              </b>
            </p>
          ))}
        </div>
      ) : null}
      <ul aria-label="Every part of this state" className="px-4 py-1">
        {(holds?.parts ?? []).map((part) => (
          <li key={part.id} className="border-b border-line last:border-0">
            <button
              type="button"
              className="flex min-h-11 w-full items-center justify-between gap-3 text-left leading-tight hover:bg-film"
              aria-pressed={gone?.id === part.id}
              onClick={() => onGone(part.id)}
            >
              <span>{part.name}</span>
              <Goes further={part.further_m} />
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

function Goes({ further }: { further: number | null }) {
  const [settings] = useSettings();
  if (further === null) return <b className="whitespace-nowrap text-over">◆ falls</b>;
  if (further < 0.01) return <span className="whitespace-nowrap">■ stays</span>;
  const metres = said({ low: further, expected: further, high: further, unit: "m" }, settings);
  return <b className="whitespace-nowrap">◇ {metres}</b>;
}

interface LookProps {
  found: CheckOf;
  revision: Revision;
  me: string;
  canSign: boolean;
  saved: boolean;
  fault: string | null;
  busy: boolean;
  onSign: () => void;
  /** Where its papers are, of the revision that is saved: PDF. */
  papers: string;
}

export function SecondLook({ found, revision, me, canSign, saved, fault, busy, onSign, papers }: LookProps) {
  const open = found.all.filter((one) => one.stops).length;
  const came = found.all.filter((one) => found.standing(one) === "came-open");
  const left = found.all.filter((one) => !one.stops && found.standing(one) !== "signed").length;
  const own = revision.author === me;
  const last = [...found.signed.values()].sort((a, b) => a.at.localeCompare(b.at)).at(-1);
  return (
    <section aria-label="Second look" className="border-t-2 border-ink px-4 py-2" data-testid="second-look">
      <div className="flex items-center justify-between">
        <h2 className="font-semibold">Second look</h2>
        <span className="flex gap-2">
          <a className="button inline-flex items-center px-3" href={`${papers}/card`} download>
            Rig card
          </a>
          <a className="button inline-flex items-center px-3" href={`${papers}/check`} download>
            Check sheet
          </a>
        </span>
      </div>
      <p className="leading-snug" aria-live="polite">
        {found.answered} of {found.all.length} lines signed
        {last ? `, last by ${last.by} at ${clock(last.at)}` : ""}.{" "}
        {came.length ? (
          <b className="text-over">
            {came.length === 1 ? "One line" : `${came.length} lines`} came open when the plan changed
            {` (revision ${revision.number}, ${clock(revision.saved_at)})`}.
          </b>
        ) : null}
        {open ? ` ${open} can not be signed yet: mend or accept, or say what is not known.` : ""}
      </p>
      {fault ? <p className="font-semibold text-over">◆ {fault}</p> : null}
      {!canSign ? (
        <p className="text-quiet">Observers read; a leader or a member signs.</p>
      ) : own ? (
        <p className="text-quiet">
          You saved revision {revision.number}: a second person signs, under their own sign-in.
        </p>
      ) : (
        <button
          type="button"
          className="button button-main mt-1 w-full whitespace-normal"
          disabled={!saved || busy || left === 0}
          onClick={onSign}
        >
          {left === 0
            ? "Everything that can be is signed"
            : `Sign ${left === 1 ? "the line" : `${left} lines`} as ${me}`}
        </button>
      )}
    </section>
  );
}

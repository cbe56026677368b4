/** Check: what each state holds on, everything found by urgency with its mends, and a second pair of eyes. */
import { createPatch } from "rfc6902";
import { useState } from "react";
import type { CheckLine, CheckRow, Document } from "../../api/types";
import { edited, type Edit } from "../../plan/edits";
import type { CheckOf } from "../../plan/useCheck";
import type { OpenPlan } from "../../plan/usePlan";
import { unbroken } from "../../ui/format";
import { AcceptSheet } from "./AcceptSheet";
import { LineOfCheck } from "./LineOfCheck";
import { Mark, SignedMark } from "./marks";
import { Since } from "../../ui/Since";

interface Props {
  open: OpenPlan;
  found: CheckOf;
  state: string;
  gone: string | null;
  onState: (state: string) => void;
  onGone: (state: string, part: string) => void;
  onPlace: (state: string, up: number) => void;
  onSign: ((line: string) => void) | null;
}

/** A mend that was made, with the edits that take it back. */
interface Made {
  label: string;
  back: Edit[];
}

export function CheckStage({ open, found, state, gone, onState, onGone, onPlace, onSign }: Props) {
  const [made, setMade] = useState<Made | null>(null);
  const [accepting, accept] = useState<CheckLine | null>(null);
  const [all, showAll] = useState(false);
  const { check } = found;
  const edit = (edits: Edit[], label: string | null) => {
    const before = open.document;
    const after = edited(before, edits);
    setMade(label === null ? null : { label, back: createPatch(after, before) as Edit[] });
    open.edit(() => after);
  };
  const loud = check.lines.filter((one) => one.open || (one.level === "look" && !one.accepted));
  const rest = check.lines.filter((one) => !loud.includes(one));
  const item = (line: CheckLine) => (
    <LineOfCheck
      key={line.id}
      line={line}
      found={found}
      open={open}
      shown={gone !== null && gone === line.gone}
      onMend={(mend) => edit(mend.edits, mend.label)}
      onAccept={() => accept(line)}
      onWithdraw={() => open.edit((old) => without(old, line.id))}
      onGone={line.gone && typeof line.where !== "number" ? () => onGone(line.state, line.gone!) : null}
      onPlace={typeof line.where === "number" ? () => onPlace(line.state || "held", line.where as number) : null}
      onSign={onSign}
    />
  );
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-4 pt-2 pb-4">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-answer font-semibold">What holds, and what if it goes</h2>
        <p className="font-label text-quiet" data-testid="rule">
          {check.rule}
        </p>
      </div>
      <States found={found} state={state} onState={onState} onSign={onSign} />
      {made ? (
        <div role="status" data-testid="made" className="mt-2 flex items-center gap-3 border-2 border-ink px-3">
          <p className="flex-1 text-body">
            Changed: <b>{made.label}</b>.
          </p>
          <button type="button" className="button my-1" onClick={() => edit(made.back, null)}>
            Take it back
          </button>
        </div>
      ) : null}
      <p className="mt-3 mb-1 text-body" aria-live="polite" data-testid="loud">
        {summary(check.stops, check.unknowns, loud.length)}
        {found.whole ? null : (
          <>
            . <Since doing={found.doing}>Further up its way and its steps: being asked.</Since>
          </>
        )}
      </p>
      <ul aria-label="Checks by urgency">{loud.map(item)}</ul>
      <button
        type="button"
        className="button mt-2"
        aria-expanded={all}
        onClick={() => showAll(!all)}
        data-testid="rest"
      >
        {all ? "Hide" : "Show"} the {rest.length} others: nothing to stop for
      </button>
      {all ? (
        <ul aria-label="The other checks" className="mt-1">
          {rest.map(item)}
        </ul>
      ) : null}
      {accepting ? <AcceptSheet line={accepting} open={open} onClose={() => accept(null)} /> : null}
    </div>
  );
}

/** The document with a line's acceptance withdrawn. */
function without(document: Document, line: string): Document {
  return { ...document, accepted: (document.accepted ?? []).filter((one) => one.check !== line) };
}

function summary(stops: number, unknowns: number, shown: number) {
  const words = [
    stops ? `◆ ${stops} to stop for` : "■ Nothing to stop for",
    unknowns ? `□ ${unknowns} not known` : "",
    shown - stops - unknowns > 0 ? `◇ ${shown - stops - unknowns} to look at` : "",
  ];
  return words.filter(Boolean).join(", ");
}

function States({
  found,
  state,
  onState,
  onSign,
}: {
  found: CheckOf;
  state: string;
  onState: (state: string) => void;
  onSign: ((line: string) => void) | null;
}) {
  return (
    <table className="mt-1 w-full border-collapse text-left narrow:block" aria-label="States">
      <thead className="narrow:hidden">
        <tr className="border-b-2 border-ink font-label text-note text-quiet">
          <th className="py-0.5 pr-2 font-normal">moment</th>
          <th className="pr-2 font-normal">holds on</th>
          <th className="pr-2 font-normal">behind it</th>
          <th className="pr-2 font-normal">hands off</th>
          <th className="pr-2 font-normal">weakest</th>
          <th className="font-normal">signed</th>
        </tr>
      </thead>
      <tbody className="narrow:block">
        {found.check.rows.map((row) => (
          <StateRow
            key={row.id}
            row={row}
            here={row.state === state}
            found={found}
            onOpen={() => onState(row.state)}
            onSign={onSign && row.level !== "stop" ? () => onSign(row.id) : null}
          />
        ))}
      </tbody>
    </table>
  );
}

function StateRow({
  row,
  here,
  found,
  onOpen,
  onSign,
}: {
  row: CheckRow;
  here: boolean;
  found: CheckOf;
  onOpen: () => void;
  onSign: (() => void) | null;
}) {
  // On a phone a state is read downward, each answer with its head.
  const cell =
    "py-0.5 pr-2 align-top leading-tight narrow:block narrow:before:text-quiet narrow:before:content-[attr(data-head)]";
  return (
    <tr className={`border-b border-line narrow:block narrow:pb-1 ${here ? "bg-tint" : ""}`} data-row={row.state}>
      <th scope="row" className="pr-2 align-top font-semibold narrow:block">
        <button
          type="button"
          className="flex min-h-11 w-full items-center text-left leading-tight"
          aria-pressed={here}
          onClick={onOpen}
        >
          <Mark level={row.level} /> {row.name}
        </button>
      </th>
      {row.why_not ? (
        <td colSpan={4} className={`${cell} pt-2.5`}>
          {row.why_not}
        </td>
      ) : (
        <>
          <td className={cell} data-head="holds on ">
            {unbroken(row.holds_on)}
          </td>
          <td data-head="behind it " className={`${cell} ${row.behind === "nothing" ? "font-semibold text-over" : ""}`}>
            {unbroken(row.behind)}
          </td>
          <td
            data-head="hands off: "
            className={`${cell} ${row.hands_off === "it falls" ? "font-semibold text-over" : ""}`}
          >
            {unbroken(row.hands_off)}
          </td>
          <td data-head="weakest " className={`${cell} font-label`}>
            {unbroken(row.weakest)}
          </td>
        </>
      )}
      <td className="align-top narrow:block">
        {row.level === "stop" ? null : <SignedMark line={row} found={found} onSign={onSign} />}
      </td>
    </tr>
  );
}

/** Before the run is begun: the operation that the plan comes to, who does what, and what the people there can not do. */
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import type { RunOut, Step } from "../../api/types";
import { Arranging, Beginning } from "./Arranging";
import { stretches, type Section } from "./arranged";
import { Because } from "./Because";
import { Course } from "./Course";
import { useArranging, useBefore, usePaces, type Pace } from "./useArranging";

export function Composed({
  out,
  leads,
  onBegin,
  onProcedure,
  plan,
}: {
  out: RunOut;
  leads: boolean;
  /** Begun at its first step, or at another with the reason. */
  onBegin: (text: string, from: string | null) => void;
  onProcedure: (id: string) => void;
  plan: string;
}) {
  const { operation, run } = out;
  const going = run !== null && run.status !== "ended";
  const arranging = useArranging(plan, out);
  const paces = usePaces(out.team);
  const before = useBefore(plan);
  const [from, beginAt] = useState<string | null>(null);
  const [first, begin] = useState(false);
  const onArrange = (course: Parameters<typeof arranging.arrange>[0]) => void arranging.arrange(course);
  const refused = operation.steps.filter((one) => one.refused.length);
  return (
    <main tabIndex={-1} className="min-h-0 overflow-y-auto px-4 pt-3 pb-6">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="mr-auto text-loud font-semibold">
          {run ? "The run has ended" : "The operation"}
          <span className="ml-2 text-answer font-normal" data-testid="until">
            {operation.timing.done} in{" "}
            <b className="text-over">{operation.timing.text.slice(operation.timing.done.length + 4)}</b>
          </span>
        </h2>
        {run ? (
          <Link to={`/plans/${plan}/debrief`} className="button button-main flex items-center">
            Debrief
          </Link>
        ) : null}
        <Link to={`/plans/${plan}/check`} className="button flex items-center">
          To the check
        </Link>
        {leads ? (
          <button
            type="button"
            className="button button-main min-h-14 text-head"
            onClick={() => (before === "" ? onBegin("", null) : begin(true))}
            data-testid="begin"
          >
            {run ? "Begin another" : "Begin the run"}
          </button>
        ) : null}
      </div>
      {before && leads && !going ? (
        <p className="mt-1 text-answer" data-testid="before">
          In the check: {before}.
        </p>
      ) : null}
      {operation.lacks.map((one) => (
        <p key={one.duty} className="mt-2 border-l-4 border-over bg-tint px-3 py-1.5 text-answer" data-testid="lack">
          <b>◆ {one.duty}:</b> {one.text}, in {one.steps.length} {one.steps.length === 1 ? "step" : "steps"}:{" "}
          {one.would}.
        </p>
      ))}
      {refused.map((one) => (
        <p key={one.key} className="mt-2 border-l-4 border-over bg-tint px-3 py-1.5 text-answer">
          <b>◆ {one.do}</b> {one.refused.join(" ")}
        </p>
      ))}
      {operation.ropes.length ? (
        <ul aria-label="Rope at the least" className="mt-1 flex flex-wrap gap-x-4 text-answer">
          {operation.ropes.map((one) => (
            <li key={one.rope} className={one.left_m < 0 ? "font-semibold text-over" : ""}>
              {one.left_m < 0 ? "◆ " : ""}
              {one.text}
            </li>
          ))}
        </ul>
      ) : null}
      {operation.timing.notes.map((one) => (
        <p key={one} className="mt-1 text-answer">
          {one}
        </p>
      ))}
      <Course timing={operation.timing} />
      {leads && !going ? (
        <div className="mt-2 flex flex-wrap items-center gap-3">
          <Beginning operation={operation} onArrange={onArrange} />
          {paces.length && !sameTimes(paces, operation.timing.paces) ? (
            <button type="button" className="button" onClick={() => void arranging.pace(paces)}>
              Reckon by our own times
            </button>
          ) : null}
          {operation.timing.paces.length ? (
            <button type="button" className="button" onClick={() => void arranging.pace([])}>
              Reckon from memory
            </button>
          ) : null}
        </div>
      ) : null}
      {arranging.wrong ? (
        <p role="alert" className="mt-2 border-l-4 border-over bg-tint px-3 py-1.5 text-answer font-semibold">
          ◆ {arranging.wrong}
        </p>
      ) : null}
      <ol className="mt-3 border-t-2 border-ink" aria-busy={arranging.busy}>
        {stretches(operation).map((rows, place) => (
          <Stretch key={rows[0]!.id} place={place} rows={rows} operation={operation}>
            {leads ? (
              <Arranging
                place={place}
                out={out}
                onArrange={onArrange}
                onProcedure={onProcedure}
                onBeginHere={(key) => beginAt(key)}
              />
            ) : null}
          </Stretch>
        ))}
      </ol>
      {first ? (
        <Because
          title="The run begins with something open"
          does={[["Begin the run", (text) => onBegin(text, null)]]}
          onClose={() => begin(false)}
        >
          <p className="text-answer leading-snug">
            <b>◆ {before ?? "Nobody knows yet what is open in the check"}.</b> Mend, accept or have it signed in the
            check; or begin so, by your name.
          </p>
        </Because>
      ) : null}
      {from ? (
        <Because
          title="The run begins in the middle"
          does={[["Begin the run here", (text) => onBegin(text, from)]]}
          onClose={() => beginAt(null)}
        >
          <p className="text-answer leading-snug">
            At: <b>{operation.steps.find((one) => one.key === from)?.do}</b> What comes before it in the plan is taken
            to stand already; look yourself that it does.
          </p>
        </Because>
      ) : null}
    </main>
  );
}

function sameTimes(ours: Pace[], taken: Pace[]): boolean {
  return JSON.stringify(ours) === JSON.stringify(taken);
}

type Operation = RunOut["operation"];

/** A section of the plan, all that it takes together; its steps, numbered, once it is opened; what is done instead of it. */
function Stretch({
  place,
  rows,
  operation,
  children,
}: {
  place: number;
  rows: Section[];
  operation: Operation;
  children: ReactNode;
}) {
  const first = rows[0]!;
  const alike = rows.filter((one) => one.procedure === first.procedure);
  const shown = first.count > 1 ? [first] : rows;
  const takes = rows.reduce((sum, one) => sum + one.minutes.expected, 0);
  const steps = shown.flatMap((one) => one.steps).flatMap((key) => operation.steps.filter((one) => one.key === key));
  const last = steps.at(-1);
  return (
    <li className="border-b border-line">
      <details>
        <summary className="flex min-h-11 cursor-pointer items-center gap-4 py-1 text-answer">
          <b className="w-64 shrink-0 max-sm:w-auto">
            {place + 1} {first.name}
          </b>
          <span className="flex-1 font-label text-quiet">
            {[
              first.count > 1 ? `${alike.length} hauls` : first.refused ? "" : first.text,
              rows.length > alike.length ? `${rows.length - alike.length} on the way` : "",
              last && !last.holds.grounded ? `then on ${last.holds.on_text.toLowerCase()}` : "",
            ]
              .filter(Boolean)
              .join("; ")}
          </span>
          <span className="font-label whitespace-nowrap underline">
            {steps.length} {steps.length === 1 ? "step" : "steps"}
          </span>
          <b className="w-20 text-right text-over" data-testid="minutes">
            {steps.length ? `${Math.max(1, Math.round(takes))} min` : ""}
          </b>
        </summary>
        <Steps steps={steps} />
        {children}
      </details>
      {first.refused ? <p className="pb-2 text-answer text-over">◆ {first.refused}</p> : null}
      {rows.at(-1)!.instead.map((one) => (
        <details key={one.id} className="border-t border-line pl-8">
          <summary className="flex min-h-11 cursor-pointer items-center gap-4 py-1 text-answer">
            <span className="flex-1">
              or: <b>{one.name}</b>, if {one.when}
            </span>
            <span className="font-label whitespace-nowrap underline">
              {one.steps.length} {one.steps.length === 1 ? "step" : "steps"}
            </span>
            <span className="w-20" />
          </summary>
          {one.refused ? <p className="pb-2 text-answer text-over">◆ {one.refused}</p> : <Steps steps={one.steps} />}
        </details>
      ))}
    </li>
  );
}

function Steps({ steps }: { steps: Step[] }) {
  return (
    <ol className="list-decimal pb-2 pl-8">
      {steps.map((step) => (
        <li key={step.key} className="py-0.5 leading-snug">
          {step.do}
          {step.moves_text ? <b className="text-over"> {step.moves_text}.</b> : null}{" "}
          <span className="font-label text-quiet">
            {step.who.map((one) => one.name || `${one.duty}: nobody`).join(", ")}
            {step.holds.grounded
              ? ""
              : `; holds on ${step.holds.on_text.toLowerCase()}, behind it ${step.holds.behind_text.toLowerCase()}`}
          </span>
        </li>
      ))}
    </ol>
  );
}

/** Before the run is begun: the operation that the plan comes to, who does what, and what the people there can not do. */
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { RunOut } from "../../api/types";
import { Course } from "./Course";

/** What the plan itself makes: it has no steps to put in another order. */
export const FIXED = ["set-up", "check", "edge", "derig"];

export function Composed({
  out,
  leads,
  onBegin,
  onProcedure,
  plan,
}: {
  out: RunOut;
  leads: boolean;
  onBegin: () => void;
  onProcedure: (id: string) => void;
  plan: string;
}) {
  const { operation, run } = out;
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
          <button type="button" className="button button-main min-h-14 text-head" onClick={onBegin} data-testid="begin">
            {run ? "Begin another" : "Begin the run"}
          </button>
        ) : null}
      </div>
      {operation.lacks.map((one) => (
        <p key={one.duty} className="mt-2 border-l-4 border-over bg-tint px-3 py-1.5 text-answer" data-testid="lack">
          <b>◆ {one.duty}:</b> {one.text}, in {one.steps.length} {one.steps.length === 1 ? "step" : "steps"}.{" "}
          {one.would}.
        </p>
      ))}
      {refused.map((one) => (
        <p key={one.key} className="mt-2 border-l-4 border-over bg-tint px-3 py-1.5 text-answer">
          <b>◆ {one.do}</b> {one.refused.join(" ")}
        </p>
      ))}
      {operation.timing.notes.map((one) => (
        <p key={one} className="mt-1 text-answer">
          {one}
        </p>
      ))}
      <Course timing={operation.timing} />
      <ol className="mt-3 border-t-2 border-ink">
        {operation.sections
          .filter((one) => one.number === 1)
          .map((section, place) => (
            <Stretch key={section.id} place={place + 1} section={section} operation={operation}>
              {leads && !FIXED.includes(section.procedure) ? (
                <button
                  type="button"
                  className="button my-1"
                  aria-label={`change its steps: ${section.name}`}
                  onClick={() => onProcedure(section.procedure)}
                >
                  Change its steps
                </button>
              ) : null}
            </Stretch>
          ))}
      </ol>
    </main>
  );
}

type Operation = RunOut["operation"];
type Section = Operation["sections"][number];

/** A section, or one haul for all of them; its steps, numbered, once it is opened. */
function Stretch({
  place,
  section,
  operation,
  children,
}: {
  place: number;
  section: Section;
  operation: Operation;
  children: ReactNode;
}) {
  const alike = operation.sections.filter((one) => one.procedure === section.procedure && one.count === section.count);
  const took = section.count > 1 ? alike : [section];
  const takes = took.reduce((sum, one) => sum + one.minutes.expected, 0);
  const steps = section.steps.flatMap((key) => operation.steps.filter((one) => one.key === key));
  const last = steps.at(-1);
  return (
    <li className="border-b border-line">
      <details>
        <summary className="flex min-h-11 cursor-pointer items-center gap-4 py-1 text-answer">
          <b className="w-64 shrink-0 max-sm:w-auto">
            {place} {section.name}
          </b>
          <span className="flex-1 font-label text-quiet">
            {[
              section.count > 1 ? `${section.count} hauls` : section.text,
              last && !last.holds.grounded ? `then on ${last.holds.on_text.toLowerCase()}` : "",
            ]
              .filter(Boolean)
              .join("; ")}
          </span>
          <span className="font-label whitespace-nowrap underline">
            {steps.length} {steps.length === 1 ? "step" : "steps"}
          </span>
          <b className="w-20 text-right text-over" data-testid="minutes">
            {Math.max(1, Math.round(takes))} min
          </b>
        </summary>
        {steps.length ? null : <p className="text-over">◆ {section.text}</p>}
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
        {children}
      </details>
    </li>
  );
}

/** Before the run is begun: the operation that the plan comes to, who does what, and what the people there can not do. */
import { Link } from "react-router";
import type { RunOut } from "../../api/types";

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
          {run ? "The run has ended" : "The run, as the plan comes to it"}
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
      <ol className="mt-3">
        {operation.sections.map((section) => (
          <li key={section.id} className="border-t border-line py-1.5">
            <h3 className="text-answer font-semibold">
              {section.name}
              <span className="ml-2 font-label font-normal text-quiet">{section.text}</span>
              {leads && section.number === 1 && !FIXED.includes(section.procedure) ? (
                <button
                  type="button"
                  className="ml-2 min-h-11 px-2 font-label text-base font-normal underline"
                  aria-label={`change its steps: ${section.name}`}
                  onClick={() => onProcedure(section.procedure)}
                >
                  change its steps
                </button>
              ) : null}
            </h3>
            {section.steps.length ? null : <p className="text-over">◆ {section.text}</p>}
            {section.number > 1 ? (
              <p className="font-label text-quiet">as before</p>
            ) : (
              <ol className="grid gap-x-6 roomy:grid-cols-2">
                {section.steps.map((key) => {
                  const step = operation.steps.find((one) => one.key === key);
                  if (!step) return null;
                  return (
                    <li key={key} className="py-0.5 leading-snug">
                      {step.do}
                      {step.moves_text ? <b className="text-over"> {step.moves_text}.</b> : null}{" "}
                      <span className="font-label text-quiet">
                        {step.who.map((one) => one.name || `${one.duty}: nobody`).join(", ")}
                        {step.holds.grounded
                          ? ""
                          : `; holds on ${step.holds.on_text.toLowerCase()}, behind it ${step.holds.behind_text.toLowerCase()}`}
                      </span>
                    </li>
                  );
                })}
              </ol>
            )}
          </li>
        ))}
      </ol>
    </main>
  );
}

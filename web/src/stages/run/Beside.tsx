/** Steps that wait for nothing that is now: whoever they are for does them at the same time. */
import type { Operation, Run } from "../../api/types";
import type { LiveRun } from "./useRun";

interface Props {
  run: Run;
  operation: Operation;
  live: LiveRun;
  role: string;
  acts: boolean;
}

export function Beside({ run, operation, live, role, acts }: Props) {
  if (run.contingency) return null;
  const steps = operation.steps.filter((one) => run.beside.includes(one.key));
  const isMine = (one: (typeof steps)[number]) => one.who.some((who) => who.acts && who.role === role);
  steps.sort((one, other) => Number(isMine(other)) - Number(isMine(one)));
  if (!steps.length) return null;
  return (
    <section aria-label="At the same time" className="mt-2 border-t border-line pt-1" data-testid="beside">
      <h3 className="font-label text-quiet">at the same time</h3>
      <ul>
        {steps.map((one) => (
          <li key={one.key} className="flex items-center gap-2 py-0.5 text-answer leading-snug">
            <span className="min-w-0 flex-1">
              <b className={isMine(one) ? "text-over" : ""}>{one.do}</b>{" "}
              <span className="font-label text-quiet">
                {one.who
                  .filter((who) => who.acts)
                  .map((who) => who.name || who.duty)
                  .join(", ")}
              </span>
            </span>
            <button
              type="button"
              className="button"
              aria-label={`Done: ${one.do}`}
              disabled={!acts || run.status !== "going"}
              onClick={() => live.act({ act: "done", at: one.key, text: "", data: {} })}
            >
              Done
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The Check stage: the sheet, and beside it a part taken away and the second look. */
import type { Holds, StateReport } from "../../api/types";
import { useSign, type CheckOf } from "../../plan/useCheck";
import type { OpenPlan } from "../../plan/usePlan";
import { FaultList } from "../../plan/FaultList";
import { wrongOf } from "../../ui/faults";
import { CheckStage } from "./CheckStage";
import { SecondLook, TakenAway } from "./SecondLook";
import { Since } from "../../ui/Since";

interface Props {
  open: OpenPlan;
  found: CheckOf | null;
  holds: Holds | null;
  state: StateReport | null;
  me: string;
  onState: (state: string) => void;
  onGone: (state: string, part: string | null) => void;
  /** Looks at a state with the load so many metres up its way. */
  onPlace: (state: string, up: number) => void;
}

export function CheckPage({ open, found, holds, state, me, onState, onGone, onPlace }: Props) {
  const sign = useSign(open.plan.id, open.revision.number);
  const saved = open.saving === "saved";
  const maySign = open.canLog && saved && open.revision.author !== me;
  const here = state?.id ?? "held";
  return (
    <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_clamp(310px,30vw,380px)] narrow:block narrow:overflow-y-auto">
      <main tabIndex={-1} className="flex min-h-0 min-w-0 flex-col bg-sheet">
        <FaultList open={open} />
        {found ? (
          <CheckStage
            open={open}
            found={found}
            state={here}
            gone={holds?.gone?.id ?? null}
            onState={onState}
            onGone={onGone}
            onPlace={onPlace}
            onSign={maySign ? (line) => sign.mutate([line]) : null}
          />
        ) : (
          <p className="p-4 text-answer">
            <Since>Asking every part.</Since>
          </p>
        )}
      </main>
      <aside
        aria-label="A part taken away, and the second look"
        className="flex min-h-0 flex-col border-l-2 border-line bg-sheet"
      >
        <div className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
          <TakenAway
            document={open.document}
            report={open.report}
            state={state}
            holds={holds}
            onGone={(part) => onGone(here, part)}
          />
        </div>
        {found ? (
          <SecondLook
            found={found}
            revision={open.revision}
            me={me}
            canSign={open.canLog}
            saved={saved}
            fault={sign.error ? wrongOf(sign.error) : null}
            busy={sign.isPending}
            onSign={() => sign.mutate(null)}
            papers={`/api/plans/${open.plan.id}/papers`}
          />
        ) : null}
        <p className="border-t border-line px-4 py-1.5 font-label text-note leading-tight text-quiet">
          {open.report?.caution}
        </p>
      </aside>
    </div>
  );
}

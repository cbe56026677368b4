/** A piece counted out or back from its own page, where a phone's camera led by its label: for the plan that is being packed on this device. */
import type { ShelfPiece } from "../../api/types";
import { Wrong } from "../../ui/Wrong";
import { packed } from "./packed";
import { usePacking } from "./useShelf";

export function CountHere({ shelved }: { shelved: ShelfPiece }) {
  const plan = packed();
  return plan ? <ForPlan shelved={shelved} plan={plan} /> : null;
}

function ForPlan({ shelved, plan }: { shelved: ShelfPiece; plan: string }) {
  const { packing, count, busy, wrong } = usePacking(plan);
  if (!packing?.writes) return null;
  const { label } = shelved.piece;
  const out = packing.out.find((one) => one.label === label)?.count ?? 0;
  const wanted = packing.rows.flatMap((row) => row.taken).find((one) => one.label === label);
  const more = Math.max(1, (wanted?.count ?? 0) - out);
  return (
    <section aria-label="Packing" className="mb-3 border-l-4 border-ink bg-film px-3 py-2">
      <p className="text-answer">
        {packing.title}: {out ? `${out} out` : "not out"}
        {wanted ? `, the plan takes ${wanted.count}` : ", the plan does not take it"}.
      </p>
      {wrong ? <Wrong>{wrong}</Wrong> : null}
      <div className="mt-1 flex flex-wrap gap-2">
        {shelved.piece.retired ? null : (
          <button
            type="button"
            className={`button ${out ? "" : "button-main"}`}
            disabled={busy}
            onClick={() => void count([{ label, count: more }], true)}
          >
            {more > 1 ? `${more} out` : "Out"}
          </button>
        )}
        {out ? (
          <button
            type="button"
            className="button button-main"
            disabled={busy}
            onClick={() => void count([{ label, count: out }], false)}
          >
            {out > 1 ? `All ${out} back` : "Back"}
          </button>
        ) : null}
      </div>
    </section>
  );
}

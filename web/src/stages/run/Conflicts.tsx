/** Two moved the run on meanwhile: as both saw it, until the leader settles it. */
import type { Conflict, Deed } from "../../api/types";
import { clock } from "../../ui/format";
import type { Act } from "./useRun";

interface Props {
  conflicts: Conflict[];
  /** The words of the step that is now. */
  here: string;
  leads: boolean;
  onSettle: (act: Act) => void;
}

export function Conflicts({ conflicts, here, leads, onSettle }: Props) {
  return conflicts.map((one) => (
    <section
      key={one.id}
      role="alert"
      aria-label={`What ${one.by} did without a connection`}
      className="mb-2 border-4 border-over bg-tint px-4 py-2"
      data-testid="conflict"
    >
      <h2 className="text-head leading-tight font-semibold text-over">
        ◆ {one.by} went on without a connection, and it does not fit
      </h2>
      <div className="mt-1 grid gap-x-6 sm:grid-cols-2">
        <Deeds title={`${one.by} did`} rows={one.theirs} />
        <Deeds title="Done here meanwhile" rows={one.meanwhile} />
      </div>
      <p className="text-body leading-snug">It did not fit: {one.because}.</p>
      {leads ? (
        <div className="mt-1 grid gap-2 sm:grid-cols-2">
          {(["run", "theirs"] as const).map((take) => (
            <button
              key={take}
              type="button"
              className="button h-auto min-h-14 py-1 text-left leading-tight whitespace-normal"
              onClick={() => onSettle({ act: "settle", at: "", text: "", data: { conflict: one.id, take } })}
            >
              <span className="block font-label text-quiet">
                {take === "run" ? "The run stays at" : `As ${one.by} has it, at`}
              </span>
              {take === "run" ? here : one.leads_to_do}
            </button>
          ))}
        </div>
      ) : (
        <p className="text-answer">The leader settles it.</p>
      )}
    </section>
  ));
}

function Deeds({ title, rows }: { title: string; rows: Deed[] }) {
  return (
    <div>
      <h3 className="font-label text-quiet">{title}</h3>
      {rows.length ? null : <p>nothing of this</p>}
      <ol>
        {rows.map((row, number) => (
          <li key={number} className="text-body leading-snug">
            <span className="text-quiet">{clock(row.when)}</span> <b>{row.by}</b> {row.do}
          </li>
        ))}
      </ol>
    </div>
  );
}

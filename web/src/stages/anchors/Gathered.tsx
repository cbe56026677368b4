/** Where an arrangement's legs should be gathered, and how exactly they have to be tied for that. */
import type { Arrangement, ArrangementReport } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { said, shown } from "../../ui/format";
import type { AnchorEdits } from "./useAnchorEdits";

export function Gather({
  report,
  edits,
  arrangement,
  canEdit,
}: {
  report: ArrangementReport;
  edits: AnchorEdits;
  arrangement: Arrangement;
  canEdit: boolean;
}) {
  const [settings] = useSettings();
  const gather = report.gather!;
  const tie = () =>
    edits.arrangement(arrangement.id, (old) => ({
      ...old,
      legs: old.legs.map((leg, index) => ({
        ...leg,
        pretension_n: null,
        length_m: Math.round((gather.lengths[index]?.expected ?? 1) * 1000) / 1000,
      })),
    }));
  return (
    <section className="mt-1 border-l-4 border-line px-3 py-1" aria-label="Where to gather">
      <h3 className="font-semibold">Where to gather</h3>
      <p>
        {gather.per_cm ? (
          <>
            Tie the legs to{" "}
            {report.legs
              .map((leg, index) => `${gather.lengths[index]?.expected.toFixed(2)} m (${leg.name})`)
              .join(", ")}
            : then {gather.forces.map((force) => shown(force, settings).value).join(", ")} {settings.force}. A
            centimetre in one leg moves a leg&apos;s pull by up to {said(gather.per_cm, settings)}.
          </>
        ) : (
          gather.text
        )}
      </p>
      {gather.per_cm ? (
        <button type="button" className="button my-1" disabled={!canEdit} onClick={tie}>
          Tie to these lengths
        </button>
      ) : null}
    </section>
  );
}

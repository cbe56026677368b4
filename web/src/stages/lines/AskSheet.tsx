/** Ask the plan: what everybody asks the leader, answered on one card for the moment that is shown. */
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../../device/client";
import type { Document, StateReport } from "../../api/types";
import { wrongOf } from "../../ui/faults";
import { unbroken } from "../../ui/format";
import { useSettings } from "../../ui/settings";
import { Sheet } from "../../ui/Sheet";
import { Since } from "../../ui/Since";

interface Props {
  document: Document;
  state: StateReport;
  /** How far up its way the load is, in metres; null where the plan has it. */
  run: number | null;
  onClose: () => void;
}

export function AskSheet({ document, state, run, onClose }: Props) {
  const [{ force, length }] = useSettings();
  const asked = useQuery({
    queryKey: ["moment", document, state.id, run, force, length],
    queryFn: async () =>
      answered(
        await api.POST("/api/moment", {
          body: document,
          params: { query: { state: state.id, run_m: run ?? 0, force_unit: force, length_unit: length } },
        }),
      ),
    retry: false,
  });
  return (
    <Sheet title={`${state.name}${run ? ", where the load is now" : ""}`} onClose={onClose} wide>
      {asked.data ? (
        <dl data-testid="asked" className="grid gap-x-6 gap-y-2 sm:grid-cols-2">
          {asked.data.answers.map((one) => (
            <div key={one.id} className="border-t border-line pt-1" data-asked={one.id}>
              <dt className="font-label text-quiet">{one.question}</dt>
              <dd className={`text-answer leading-snug ${one.loud ? "font-semibold text-over" : ""}`}>
                {one.loud ? "◆ " : ""}
                {unbroken(one.text)}
              </dd>
            </div>
          ))}
        </dl>
      ) : (
        <p role="status">{asked.error ? `◆ ${wrongOf(asked.error)}` : <Since>Working it out.</Since>}</p>
      )}
    </Sheet>
  );
}

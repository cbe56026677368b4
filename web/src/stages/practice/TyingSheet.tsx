/** A knot tied before a second person, who takes the time and ticks its stages. */
import { useEffect, useState } from "react";
import type { Practice, TyingKept } from "../../api/types";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import { wrongOf } from "../../ui/faults";
import { Choice } from "../../ui/fields";
import { Sheet } from "../../ui/Sheet";
import { Wrong } from "../../ui/Wrong";

const TENTH_MS = 100;

export function TyingSheet({
  knot,
  fellows,
  onClose,
  onKept,
}: {
  knot: TyingKept;
  fellows: Practice["fellows"];
  onClose: () => void;
  onKept: () => void;
}) {
  const [who, setWho] = useState<string | null>(null);
  const [hand, setHand] = useState<"right" | "left">("right");
  const [began, begin] = useState<number | null>(null);
  const [took_s, setTook] = useState(0);
  const [stages, setStages] = useState<boolean[]>(() => knot.stages.map(() => true));
  const [wrong, setWrong] = useState<unknown>(null);
  useEffect(() => {
    if (began === null) return;
    const tick = window.setInterval(() => setTook((performance.now() - began) / 1000), TENTH_MS);
    return () => window.clearInterval(tick);
  }, [began]);
  const team = fellows.find((one) => who && one.names.includes(who))?.team;
  const done = began === null && took_s > 0;
  const save = async () => {
    if (!who || team === undefined) return;
    try {
      const body = { id: newId(), who, knot: knot.knot, hand, stages, took_s: Math.round(took_s * 10) / 10 };
      answered(await api.POST("/api/teams/{team_id}/tied", { params: { path: { team_id: team } }, body }));
      onKept();
    } catch (error) {
      setWrong(error);
    }
  };
  return (
    <Sheet title={`Tied before you: ${knot.name.toLowerCase()}`} onClose={onClose} wide>
      <div className="grid grid-cols-2 gap-2">
        <Choice
          label="Who ties"
          none="choose"
          value={who}
          options={fellows.flatMap((one) => one.names).map((name) => ({ id: name, name }))}
          onChange={setWho}
        />
        <Choice
          label="From which hand"
          value={hand}
          options={[
            { id: "right", name: "right" },
            { id: "left", name: "left" },
          ]}
          onChange={(id) => setHand(id as "right")}
        />
      </div>
      <div className="mt-3 flex items-center gap-4">
        <button
          type="button"
          className="button button-main min-h-14 flex-1 text-head"
          disabled={!who}
          onClick={() => {
            setTook(began === null ? 0 : (performance.now() - began) / 1000);
            begin(began === null ? performance.now() : null);
          }}
        >
          {began === null ? (done ? "Once more" : "Go") : "Tied"}
        </button>
        <p className="w-32 text-right text-call font-semibold tabular-nums">{took_s.toFixed(1)} s</p>
      </div>
      <ul aria-label="Stages" className="mt-3">
        {knot.stages.map((text, at) => (
          <li key={text} className="border-t border-line">
            <label className="flex min-h-12 items-center gap-3 py-1 text-answer">
              <input
                type="checkbox"
                className="size-6 accent-ink"
                checked={stages[at]}
                onChange={() => setStages(stages.map((one, other) => (other === at ? !one : one)))}
              />
              {text}
            </label>
          </li>
        ))}
      </ul>
      {wrong ? <Wrong>{wrongOf(wrong)}</Wrong> : null}
      <button type="button" className="button button-main mt-3 w-full" disabled={!done} onClick={() => void save()}>
        {stages.every(Boolean) ? "Keep it: right" : "Keep it: not right"}
      </button>
    </Sheet>
  );
}

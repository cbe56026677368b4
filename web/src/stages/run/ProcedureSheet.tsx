/** A procedure's steps put in another order, left out, put in: for this run, or as the team's own. The engine says what does not go. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../device/client";
import type { Procedure } from "../../api/types";
import { wrongOf } from "../../ui/faults";
import { Sheet } from "../../ui/Sheet";
import { ROLES } from "./Role";
import type { LiveRun } from "./useRun";

type Step = Procedure["steps"][number];

interface Props {
  plan: string;
  team: number;
  procedure: string;
  live: LiveRun;
  onClose: () => void;
}

/** Edits that can be put into a step, by verb; the part is named beside. */
const VERBS = [
  "set",
  "open",
  "lock",
  "unlock",
  "ease",
  "take in",
  "take in hand",
  "let go",
  "take off",
  "untie",
  "reset",
];

export function ProcedureSheet({ plan, team, procedure, live, onClose }: Props) {
  const queries = useQueryClient();
  const found = useQuery({
    queryKey: ["procedures", team],
    queryFn: async () =>
      answered(await api.GET("/api/teams/{team_id}/procedures", { params: { path: { team_id: team } } })),
  });
  const given = found.data?.procedures.find((one) => one.id === procedure);
  const [changed, change] = useState<Step[] | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const steps = changed ?? given?.steps ?? [];
  const move = (from: number, by: number) => {
    const next = [...steps];
    const [one] = next.splice(from, 1);
    next.splice(from + by, 0, one!);
    change(next);
  };
  const going = live.run !== null && live.run.status !== "ended";
  const save = async () => {
    try {
      answered(
        await api.PUT("/api/plans/{plan_id}/procedures", {
          params: { path: { plan_id: plan } },
          body: { ...given!, steps },
        }),
      );
      await queries.invalidateQueries({ queryKey: ["procedures", team] });
      await queries.invalidateQueries({ queryKey: ["run", plan] });
      onClose();
    } catch (error) {
      setFault(wrongOf(error));
    }
  };
  if (!given) return null;
  return (
    <Sheet title={given.name} onClose={onClose} wide="table">
      {fault ? (
        <p role="alert" className="mb-2 border-l-4 border-over bg-tint px-3 py-1 text-answer font-semibold">
          ◆ {fault}
        </p>
      ) : null}
      <ol>
        {steps.map((one, index) => (
          <li key={`${index} ${one.do}`} className="flex items-start gap-2 border-b border-line py-1.5">
            <p className="min-w-0 flex-1 py-2 text-body leading-snug">
              {index + 1}. {one.do}{" "}
              <span className="font-label text-quiet">
                {one.who.join(", ")}
                {one.when ? `; only where ${one.when}` : ""}
                {one.edits?.length ? `; ${one.edits.map(words).join(", ")}` : ""}
              </span>
            </p>
            <button
              type="button"
              className="button px-3"
              aria-label={`Up ${index + 1}`}
              disabled={index === 0}
              onClick={() => move(index, -1)}
            >
              Up
            </button>
            <button
              type="button"
              className="button px-3"
              aria-label={`Down ${index + 1}`}
              disabled={index === steps.length - 1}
              onClick={() => move(index, 1)}
            >
              Down
            </button>
            <button
              type="button"
              className="button px-3"
              aria-label={`Out ${index + 1}`}
              disabled={steps.length < 2}
              onClick={() => change(steps.filter((_, other) => other !== index))}
            >
              Out
            </button>
          </li>
        ))}
      </ol>
      <Own onAdd={(step) => change([...steps, step])} />
      <div className="mt-4 flex flex-wrap gap-3">
        {going ? (
          <button
            type="button"
            className="button button-main"
            disabled={!changed}
            onClick={() => {
              live.act({ act: "procedure", at: "", text: "", data: { given: { ...given, steps } } });
              onClose();
            }}
          >
            For this run
          </button>
        ) : null}
        <button type="button" className="button" disabled={!changed} onClick={() => void save()}>
          As the team’s own
        </button>
      </div>
    </Sheet>
  );
}

function words(edit: Record<string, unknown>): string {
  const verb =
    Object.keys(edit).find((name) => VERBS.includes(name) || name.includes(" ")) ?? Object.keys(edit)[0] ?? "";
  const about = edit[verb];
  return typeof about === "string" ? `${verb} ${about}`.trim() : verb;
}

/** A step of one's own: who, what, and, where it changes the rig, one edit out of the list. It is put last, and moved from there. */
function Own({ onAdd }: { onAdd: (step: Step) => void }) {
  const [what, setWhat] = useState("");
  const [who, setWho] = useState("leader");
  const [verb, setVerb] = useState("");
  const [part, setPart] = useState("");
  return (
    <form
      className="mt-3 grid gap-3 roomy:grid-cols-[1fr_11rem_11rem_11rem_auto]"
      onSubmit={(event) => {
        event.preventDefault();
        if (!what.trim()) return;
        onAdd({
          who: [who],
          do: what.trim(),
          look: "",
          words: "",
          wrong: "",
          when: "",
          pulls: "",
          takes: "",
          edits: verb ? [{ [verb]: part.trim() }] : [],
        });
        setWhat("");
        setVerb("");
        setPart("");
      }}
    >
      <label>
        <span className="field-label">A step of your own</span>
        <input className="field" value={what} maxLength={400} onChange={(event) => setWhat(event.target.value)} />
      </label>
      <label>
        <span className="field-label">who</span>
        <select className="field" value={who} onChange={(event) => setWho(event.target.value)}>
          {Object.entries(ROLES).map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <label>
        <span className="field-label">edit of the rig</span>
        <select className="field" value={verb} onChange={(event) => setVerb(event.target.value)}>
          <option value="">none</option>
          {VERBS.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </label>
      <label>
        <span className="field-label">of (ratchet, device …)</span>
        <input className="field" value={part} maxLength={60} onChange={(event) => setPart(event.target.value)} />
      </label>
      <button type="submit" className="button self-end" disabled={!what.trim()}>
        Put it in
      </button>
    </form>
  );
}

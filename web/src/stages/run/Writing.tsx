/** What is written on the way: decided, seen, read off, photographed; phrases first, typing where none fits. */
import { useRef, useState } from "react";
import { answered, api, newId, Refused } from "../../api/client";
import type { NewEntry } from "../../api/types";
import { Sheet } from "../../ui/Sheet";
import type { LiveRun } from "./useRun";

interface Props {
  plan: string;
  live: LiveRun;
  revision: number;
  step: string;
  acts: boolean;
  leads: boolean;
}

const SEEN = [
  "edge quiet, litter clear",
  "rope in its groove",
  "stones moving",
  "casualty talks",
  "casualty worse",
  "wind rising",
];

export function Writing({ plan, live, revision, step, acts, leads }: Props) {
  const [open, show] = useState<"decided" | "saw" | "reads" | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const write = async (entry: Pick<NewEntry, "kind" | "decision"> & Partial<NewEntry>) => {
    const body: NewEntry = {
      id: newId(),
      revision,
      reason: "",
      considered: "",
      corrects: null,
      step,
      device_time: new Date().toISOString(),
      device_ahead_ms: live.aheadMs,
      ...entry,
    };
    setBusy(true);
    setFault(null);
    try {
      answered(await api.POST("/api/plans/{plan_id}/log", { params: { path: { plan_id: plan } }, body }));
      show(null);
    } catch (error) {
      setFault(error instanceof Refused ? error.message : "No connection: it is still here, send it again.");
    } finally {
      setBusy(false);
    }
  };
  const photograph = async (picture: File) => {
    const form = new FormData();
    form.set("id", newId());
    form.set("file", picture);
    form.set("name", picture.name);
    setBusy(true);
    setFault(null);
    try {
      const session = answered(await api.GET("/api/session"));
      const answer = await fetch(`/api/plans/${plan}/photographs`, {
        method: "POST",
        body: form,
        headers: { "X-CSRFToken": session.csrf_token },
      });
      if (!answer.ok) {
        const told = (await answer.json()) as { faults?: { problem: string; right: string }[] };
        setFault(told.faults?.map((one) => `${one.problem}: ${one.right}`).join(" ") ?? `answered ${answer.status}`);
      }
    } catch {
      setFault("No connection: take it again when it is back.");
    } finally {
      setBusy(false);
    }
  };
  if (!acts) return <p className="px-4 py-3 font-label text-quiet">You read, and may stop.</p>;
  return (
    <div className="flex flex-wrap items-center gap-2 px-3 py-2">
      <button type="button" className="button" onClick={() => show("decided")}>
        Decided …
      </button>
      <button type="button" className="button" onClick={() => show("saw")}>
        Saw …
      </button>
      <button type="button" className="button" onClick={() => show("reads")}>
        Reads …
      </button>
      <button type="button" className="button" disabled={busy} onClick={() => file.current?.click()}>
        Photograph
      </button>
      <input
        ref={file}
        type="file"
        accept="image/jpeg,image/png,image/webp"
        capture="environment"
        className="sr-only"
        aria-label="Photograph"
        tabIndex={-1}
        onChange={(event) => {
          const picture = event.target.files?.[0];
          event.target.value = "";
          if (picture) void photograph(picture);
        }}
      />
      {fault ? (
        <p role="alert" className="flex-1 font-semibold text-over">
          ◆ {fault}
        </p>
      ) : null}
      {leads && live.run && live.run.status !== "ended" && step.startsWith("derig") ? (
        <button
          type="button"
          className="button ml-auto"
          onClick={() => live.act({ act: "end", at: "", text: "", data: {} })}
        >
          End the run
        </button>
      ) : null}
      {open === "saw" ? (
        <Sheet title="Seen" onClose={() => show(null)} wide>
          <div className="grid gap-2 sm:grid-cols-2">
            {SEEN.map((one) => (
              <button
                key={one}
                type="button"
                className="button min-h-14! text-lg"
                disabled={busy}
                onClick={() => void write({ kind: "observation", decision: one })}
              >
                {one}
              </button>
            ))}
          </div>
          <Typed label="Seen" onSend={(text) => void write({ kind: "observation", decision: text })} busy={busy} />
        </Sheet>
      ) : null}
      {open === "reads" ? (
        <Sheet title="Reading by hand" onClose={() => show(null)} wide>
          <Typed
            label="kN at the working point"
            numeric
            busy={busy}
            onSend={(text) => {
              const value = Number(text.replace(",", "."));
              if (!Number.isFinite(value) || value < 0) return setFault(`${text} is no force in kN`);
              live.act({
                act: "reading",
                at: "",
                text: "",
                data: { force_n: Math.round(value * 1000), where: "the working point" },
              });
              show(null);
            }}
          />
        </Sheet>
      ) : null}
      {open === "decided" ? (
        <Decided
          onClose={() => show(null)}
          onSend={(decision, reason) => void write({ kind: "decision", decision, reason })}
          busy={busy}
        />
      ) : null}
    </div>
  );
}

function Typed({
  label,
  onSend,
  busy,
  numeric,
}: {
  label: string;
  onSend: (text: string) => void;
  busy: boolean;
  numeric?: boolean;
}) {
  const [text, setText] = useState("");
  return (
    <form
      className="mt-3 flex flex-wrap gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim()) onSend(text.trim());
      }}
    >
      <label className="flex flex-1 items-center gap-2">
        <span className="font-semibold whitespace-nowrap">{label}</span>
        <input
          className="field"
          inputMode={numeric ? "decimal" : "text"}
          value={text}
          maxLength={2000}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <button type="submit" className="button button-main" disabled={busy || !text.trim()}>
        Write it
      </button>
    </form>
  );
}

const DECISIONS = ["we go on", "we wait", "more haulers called", "down, not up", "belay taken over by another"];
const BECAUSE = ["casualty worse", "reads higher than expected", "light goes", "people tired", "as planned"];

function Decided({
  onClose,
  onSend,
  busy,
}: {
  onClose: () => void;
  onSend: (decision: string, reason: string) => void;
  busy: boolean;
}) {
  const [decision, decide] = useState("");
  const [reason, because] = useState("");
  return (
    <Sheet title="Decided" onClose={onClose} wide>
      <Phrases rows={DECISIONS} chosen={decision} onChoose={decide} />
      <label className="mt-2 block">
        <span className="field-label">Decided</span>
        <input className="field" value={decision} maxLength={2000} onChange={(event) => decide(event.target.value)} />
      </label>
      <div className="mt-3">
        <Phrases rows={BECAUSE} chosen={reason} onChoose={because} />
      </div>
      <label className="mt-2 block">
        <span className="field-label">because</span>
        <input className="field" value={reason} maxLength={2000} onChange={(event) => because(event.target.value)} />
      </label>
      <button
        type="button"
        className="button button-main mt-3"
        disabled={busy || !decision.trim() || !reason.trim()}
        onClick={() => onSend(decision.trim(), reason.trim())}
      >
        Record
      </button>
    </Sheet>
  );
}

function Phrases({ rows, chosen, onChoose }: { rows: string[]; chosen: string; onChoose: (one: string) => void }) {
  return (
    <div className="flex flex-wrap gap-2">
      {rows.map((one) => (
        <button
          key={one}
          type="button"
          className={`button ${chosen === one ? "button-main" : ""}`}
          aria-pressed={chosen === one}
          onClick={() => onChoose(one)}
        >
          {one}
        </button>
      ))}
    </div>
  );
}

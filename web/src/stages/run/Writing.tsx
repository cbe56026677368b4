/** What is written on the way: decided, seen, read off, photographed; phrases first, typing where none fits. */
import { useRef, useState } from "react";
import type { NewEntry } from "../../api/types";
import { Sheet } from "../../ui/Sheet";
import { Wrong } from "../../ui/Wrong";
import type { LiveRun } from "./useRun";

interface Props {
  live: LiveRun;
  revision: number;
  step: string;
  acts: boolean;
  leads: boolean;
  onCells: (() => void) | null;
  /** Where something can be seen. */
  places: string[];
}

const SEEN = [
  "edge quiet, litter clear",
  "rope in its groove",
  "stones moving",
  "casualty talks",
  "casualty worse",
  "wind rising",
];

export function Writing({ live, revision, step, acts, leads, onCells, places }: Props) {
  const [open, show] = useState<"decided" | "saw" | "reads" | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  // What the photograph that is being taken shows.
  const shows = useRef("");
  const picture = (text: string) => {
    shows.current = text;
    show(null);
    file.current?.click();
  };
  const write = (entry: Pick<NewEntry, "kind" | "decision"> & Partial<NewEntry>) => {
    live.put({ type: "entry", entry: { revision, reason: "", considered: "", corrects: null, step, ...entry } });
    show(null);
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
      <button type="button" className="button" onClick={() => picture("")}>
        Photograph
      </button>
      {onCells ? (
        <button type="button" className="button" onClick={onCells}>
          Load cells …
        </button>
      ) : null}
      <input
        ref={file}
        type="file"
        accept="image/jpeg,image/png,image/webp"
        capture="environment"
        className="sr-only"
        aria-label="Photograph"
        tabIndex={-1}
        onChange={(event) => {
          const taken = event.target.files?.[0];
          event.target.value = "";
          if (taken) live.put({ type: "photo", file: taken, name: taken.name, step, text: shows.current });
        }}
      />
      {fault ? <Wrong className="flex-1">{fault}</Wrong> : null}
      {leads && live.run && live.run.status !== "ended" && !live.run.all_done && step.startsWith("derig") ? (
        <button
          type="button"
          className="button ml-auto"
          onClick={() => live.act({ act: "end", at: "", text: "", data: {} })}
        >
          End the run
        </button>
      ) : null}
      {open === "saw" ? (
        <Seen
          places={places}
          onClose={() => show(null)}
          onSeen={(text, photograph) => (photograph ? picture(text) : write({ kind: "observation", decision: text }))}
        />
      ) : null}
      {open === "reads" ? (
        <Sheet title="Reading by hand" onClose={() => show(null)} wide>
          <Typed
            label="kN at the working point"
            numeric

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
          onSend={(decision, reason) => write({ kind: "decision", decision, reason })}
        />
      ) : null}
    </div>
  );
}

/** What was seen, where, and with a photograph if one is wanted: one entry of it. */
function Seen({
  places,
  onSeen,
  onClose,
}: {
  places: string[];
  onSeen: (text: string, photograph: boolean) => void;
  onClose: () => void;
}) {
  const [where, place] = useState("");
  const [photograph, take] = useState(false);
  const seen = (text: string) => onSeen(where ? `${text}, ${where}` : text, photograph);
  return (
    <Sheet title="Seen" onClose={onClose} wide>
      <div className="mb-3 flex flex-wrap items-center gap-2" role="group" aria-label="Where">
        <span className="text-answer font-semibold">where</span>
        <Phrases rows={places} chosen={where} onChoose={(one) => place(one === where ? "" : one)} />
        <button
          type="button"
          className={`button ml-auto ${photograph ? "button-main" : ""}`}
          aria-pressed={photograph}
          onClick={() => take(!photograph)}
        >
          With a photograph
        </button>
      </div>
      <div className="grid gap-2 sm:grid-cols-2">
        {SEEN.map((one) => (
          <button key={one} type="button" className="button min-h-14 text-answer" onClick={() => seen(one)}>
            {one}
          </button>
        ))}
      </div>
      <Typed label="Seen" onSend={seen} />
    </Sheet>
  );
}

function Typed({ label, onSend, numeric }: { label: string; onSend: (text: string) => void; numeric?: boolean }) {
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
      <button type="submit" className="button button-main" disabled={!text.trim()}>
        Write it
      </button>
    </form>
  );
}

const DECISIONS = ["we go on", "we wait", "more haulers called", "down, not up", "belay taken over by another"];
const BECAUSE = ["casualty worse", "reads higher than expected", "light goes", "people tired", "as planned"];

function Decided({ onClose, onSend }: { onClose: () => void; onSend: (decision: string, reason: string) => void }) {
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
        disabled={!decision.trim() || !reason.trim()}
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

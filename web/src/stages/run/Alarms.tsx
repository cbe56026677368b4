/** What a load cell's readings gave reason to say, until somebody has seen it: STOP beside it, where a leader would stop. */
import { useState } from "react";
import type { Entry } from "../../api/types";
import { clock } from "../../ui/format";

/** What one stops for; silence and a band left are to be looked at. */
const STOPS = ["rise", "shock", "creep"];
const FRESH_MS = 5 * 60_000;

interface Props {
  heard: Entry[];
  begun: string;
  stopped: boolean;
  onStop: () => void;
}

export function Alarms({ heard, begun, stopped, onStop }: Props) {
  const [seen, see] = useState<string[]>([]);
  const [opened] = useState(() => Date.now());
  const rows = heard.filter(
    (one) =>
      one.kind === "alarm" &&
      !seen.includes(one.id) &&
      Date.parse(one.time) > Math.max(Date.parse(begun), opened - FRESH_MS),
  );
  const stops = (one: Entry) => STOPS.includes(String(one.data?.alarm));
  const last = rows.findLast(stops) ?? rows.at(-1);
  if (!last) return null;
  const loud = stops(last);
  return (
    <div
      role="alert"
      className={`mb-2 flex flex-wrap items-center gap-3 bg-tint px-4 py-2 ${loud ? "border-4" : "border-2"} border-over`}
      data-testid="alarm"
    >
      <p className={`min-w-60 flex-1 leading-snug ${loud ? "text-head font-semibold" : "text-answer"}`}>
        <span className="text-over">◆ Load cell, {clock(last.time)}.</span> {last.decision}.
        {rows.length > 1 ? ` ${rows.length - 1} more in the log.` : ""}
      </p>
      {loud && !stopped ? (
        <button
          type="button"
          className="button min-h-14 border-4 border-over px-6 text-loud text-over"
          onClick={onStop}
        >
          STOP
        </button>
      ) : null}
      <button type="button" className="button" onClick={() => see([...seen, ...rows.map((one) => one.id)])}>
        Seen
      </button>
    </div>
  );
}

/** What was learnt, written into the log like everything else. */
import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import type { Entry, Fault } from "../../api/types";
import { useOutbox } from "../../device/outbox";
import { toldOf } from "../../ui/faults";
import { Wrong } from "../../ui/Wrong";
import { logOf, type Whole } from "./useDebrief";

const LESSON = "Lesson: ";

export function Lessons({ plan, whole, me }: { plan: string; whole: Whole; me: string }) {
  const queries = useQueryClient();
  const [text, setText] = useState("");
  const [faults, setFaults] = useState<Fault[]>([]);
  const sentRef = useRef("");
  const { put, waiting } = useOutbox(plan, {
    me,
    onEntry: (entry) =>
      queries.setQueryData<Entry[]>(logOf(plan), (old) =>
        old?.some((one) => one.id === entry.id) ? old : old && [...old, entry],
      ),
    onRefused: (found) => {
      setFaults(found);
      setText((typed) => typed || sentRef.current);
    },
  });
  const written = whole.entries.map(({ id, decision }) => ({ id, decision, offline: false }));
  // One that has just been sent is in both for a moment.
  const mine = waiting.flatMap(({ id, item, offline }) =>
    item.type === "entry" && !written.some((one) => one.id === id)
      ? [{ id, decision: item.entry.decision, offline }]
      : [],
  );
  const lessons = [...written, ...mine].filter((one) => one.decision.startsWith(LESSON));
  return (
    <section aria-label="Lessons" className="mt-3 border-t border-line pt-1">
      <h2 className="font-label text-quiet">Lessons</h2>
      <ul className="list-disc pl-5 text-body">
        {lessons.map((one) => (
          <li key={one.id}>
            {one.decision.slice(LESSON.length)}
            {one.offline ? <b className="font-label text-over"> not sent yet</b> : null}
          </li>
        ))}
      </ul>
      {faults.length ? <Wrong>{toldOf(faults)}</Wrong> : null}
      {whole.debrief.writes ? null : <p className="font-label text-quiet">Nothing is written to it from here.</p>}
      <form
        hidden={!whole.debrief.writes}
        className="mt-1 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (!text.trim()) return;
          const { revision, at } = whole.debrief.run;
          const decision = `${LESSON}${text.trim()}`;
          setFaults([]);
          put({
            type: "entry",
            entry: { kind: "observation", decision, reason: "", considered: "", corrects: null, revision, step: at },
          });
          sentRef.current = text;
          setText("");
        }}
      >
        <label className="flex flex-1 items-center gap-2">
          <span className="font-semibold">Learnt</span>
          <input className="field" value={text} maxLength={1900} onChange={(event) => setText(event.target.value)} />
        </label>
        <button type="submit" className="button" disabled={!text.trim()}>
          Write it
        </button>
      </form>
    </section>
  );
}

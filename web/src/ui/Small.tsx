/** A photograph of the log, shown small; touched, as large as the page lets it. */
import { useState } from "react";
import type { Entry } from "../api/types";

export function Small({ plan, entry }: { plan: string; entry: Entry }) {
  const [open, show] = useState(false);
  const source = `/api/plans/${plan}/photographs/${entry.id}`;
  return (
    <button
      type="button"
      className="my-1 block"
      onClick={() => show(!open)}
      aria-label={`${open ? "Smaller" : "Larger"}: ${entry.decision}`}
    >
      <img
        src={open ? source : `${source}?small=true`}
        alt={entry.decision}
        className={open ? "max-h-[60vh]" : "h-20"}
      />
    </button>
  );
}

/** What is wrong with the document as it stands. */
import type { OpenPlan } from "./usePlan";

/** Faults that no field on the screen shows, and that the drawing is of the last plan that made sense. */
export function FaultList({ open }: { open: OpenPlan }) {
  if (!open.faults.length) return null;
  return (
    <ul
      role="alert"
      aria-label="Faults"
      className="mx-4 mt-1 max-h-28 overflow-y-auto border-l-4 border-over bg-tint px-3 py-1.5"
    >
      {open.faults.map((fault) => (
        <li key={fault.path + fault.problem}>
          <b className="text-over">◆ {fault.path}</b>: {fault.problem}; {fault.right}.
        </li>
      ))}
      <li className="font-label text-quiet">
        The figures are of the last plan that made sense. What you typed is kept.
      </li>
    </ul>
  );
}

/** What is wrong with a file, each fault by where it stands in it; beside one, what can be done about it. */
import type { ReactNode } from "react";
import type { Fault } from "../api/types";

interface Props {
  label: string;
  faults: Fault[];
  mend?: (fault: Fault, at: number) => ReactNode;
}

export function FaultList({ label, faults, mend }: Props) {
  if (!faults.length) return null;
  return (
    <div role="alert" aria-label={label} className="mt-2 border-l-4 border-over bg-tint px-3 py-1.5">
      <ul>
        {faults.map((one, at) => (
          <li key={one.path + one.problem} className="flex flex-wrap items-center gap-x-3">
            <span>
              <b className="text-over">◆ {one.path}</b>: {one.problem}; {one.right}.
            </span>
            {mend?.(one, at)}
          </li>
        ))}
      </ul>
    </div>
  );
}

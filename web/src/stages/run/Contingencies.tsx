/** What can happen at any step, each with its own few steps; the run comes back to where it was. */
import { Sheet } from "../../ui/Sheet";
import { useProcedures } from "./useRun";

export function Contingencies({
  team,
  onEnter,
  onClose,
}: {
  team: number;
  onEnter: (id: string) => void;
  onClose: () => void;
}) {
  const rows = useProcedures(team).filter((one) => one.kind === "contingency");
  return (
    <Sheet title="Something else happened" onClose={onClose} wide>
      <ul className="grid gap-2 sm:grid-cols-2">
        {rows.map((one) => (
          <li key={one.id}>
            <button
              type="button"
              className="button min-h-16 w-full py-1 text-left leading-tight whitespace-normal"
              onClick={() => onEnter(one.id)}
            >
              <span className="block text-answer">{one.name}</span>
              <span className="block font-label font-normal text-quiet">{one.steps[0]?.do}</span>
            </button>
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

/** The stages in the order of work, each with what is still open in it. */
import { Link } from "react-router";
import type { Plan, WholeReport } from "../api/types";
import type { CheckOf } from "../plan/useCheck";

const STAGES = [
  { id: "size-up", name: "Size-up" },
  { id: "anchors", name: "Anchors" },
  { id: "lines", name: "Lines" },
  { id: "check", name: "Check" },
  { id: "run", name: "Run" },
] as const;

interface Props {
  plan: Plan;
  stage: string;
  whole: WholeReport | null;
  found: CheckOf | null;
}

/** What is still open in the check: every line that nobody has signed as it is now. */
function signedOf(found: CheckOf | null): string {
  if (!found) return "";
  const left = found.all.length - found.answered;
  const { stops } = found.check;
  const loud = stops ? `◆ ${stops} ${stops === 1 ? "stop" : "stops"}, ` : "";
  return left ? `${loud}${left} of ${found.all.length} open` : "all signed";
}

export function Rail({ plan, stage, whole, found }: Props) {
  const row = (to: string, name: string, note: string, here: boolean) => (
    <Link
      key={to}
      to={`/plans/${plan.id}/${to}`}
      aria-current={here ? "page" : undefined}
      className={`block min-h-[60px] border-l-4 px-3 py-2 ${here ? "border-over bg-sheet" : "border-transparent hover:bg-sheet"}`}
    >
      <span className="block font-semibold">{name}</span>
      <span className="block font-label text-[15px] text-quiet">{note}</span>
    </Link>
  );
  return (
    <nav className="flex flex-col bg-film pt-3" aria-label="Stages">
      {STAGES.map(({ id, name }) => {
        const count = whole?.open.find((one) => one.stage === id)?.items.length ?? 0;
        const note =
          id === "run"
            ? ""
            : id === "check"
              ? signedOf(found)
              : whole
                ? count
                  ? `${count} open`
                  : "nothing open"
                : "";
        return row(id, name, note, stage === id);
      })}
      <hr className="mx-3 my-3 border-line" />
      {row("log", "Log", "", stage === "log")}
      <Link to="/plans" className="block min-h-11 border-l-4 border-transparent px-3 py-2 text-quiet hover:bg-sheet">
        Plans
      </Link>
    </nav>
  );
}

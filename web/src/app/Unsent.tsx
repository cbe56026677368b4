/** What was done on this device and is not with the server yet. */
import { useLiveQuery } from "dexie-react-hooks";
import { Link, useLocation } from "react-router";
import { unsentPlans } from "../device/plans";
import { store } from "../device/store";
import { useStill } from "../plan/useStill";

/** What is on its way for less than this is not worth a word. */
const SOON_MS = 1500;

export function Unsent({ me }: { me: string }) {
  const waits = useLiveQuery(() => store.waiting.where({ by: me }).count(), [me]) ?? 0;
  const path = useLocation().pathname;
  // The plan that is shown says it by itself.
  const left = (useLiveQuery(() => unsentPlans(me), [me]) ?? []).filter((one) => !path.includes(one.plan));
  const stuck = left.find((one) => one.stuck);
  const all = waits + left.filter((one) => !one.stuck).reduce((sum, one) => sum + one.waiting.length, 0);
  const still = useStill(all, SOON_MS);
  const unsent = Math.min(all, still);
  if (!unsent && !stuck) return null;
  return (
    <div role="status" className="border-b border-line bg-tint px-4 py-1 text-body" data-testid="unsent">
      {unsent ? <p>◆ {unsent} not sent yet, kept on this device. It goes out by itself, from any page.</p> : null}
      {stuck ? (
        <Link to={`/plans/${stuck.plan}`} className="flex min-h-11 items-center underline">
          {stuck.stuck === "stale"
            ? "◆ Somebody else saved a plan that you changed: open it to settle which holds"
            : "◆ A plan that you changed was refused: open it to see what is wrong"}
        </Link>
      ) : null}
    </div>
  );
}

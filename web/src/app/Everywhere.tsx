/** What is said on every page: that somebody has called STOP, on whatever plan, and what this device still has to send. */
import { useSyncExternalStore, type ReactNode } from "react";
import { Link, useLocation } from "react-router";
import { stops, watch, type Stopped } from "../device/live";
import { clock } from "../ui/format";
import { later } from "./later";

// The device's store comes after the first view.
const Unsent = later(async () => (await import("./Unsent")).Unsent, null);

export function Everywhere({ me, children }: { me: string; children: ReactNode }) {
  const path = useLocation().pathname;
  // The run's own page says both by itself.
  const called = [...useSyncExternalStore(watch, stops)].filter(([plan]) => path !== `/plans/${plan}/run`);
  return (
    <div className="flex h-full flex-col">
      {called.map(([plan, stopped]) => (
        <StopCalled key={plan} plan={plan} stopped={stopped} />
      ))}
      {path.endsWith("/run") ? null : <Unsent me={me} />}
      <div className="min-h-0 flex-1">{children}</div>
    </div>
  );
}

function StopCalled({ plan, stopped }: { plan: string; stopped: Stopped }) {
  return (
    <Link
      to={`/plans/${plan}/run`}
      role="alert"
      className="border-4 border-over bg-tint px-4 py-2 text-[26px] leading-tight font-semibold text-over"
      data-testid="stopped"
    >
      ◆ STOP, {stopped.by}, {clock(stopped.at)}
      {stopped.why ? `: ${stopped.why}` : ""}. To the run
    </Link>
  );
}

/** What is said on every page: that somebody has called STOP, on whatever plan, and what this device still has to send. */
import { useSyncExternalStore, type ReactNode } from "react";
import { Link, useLocation } from "react-router";
import { atRest } from "../device/opened";
import { stops, watch, type Called } from "../device/live";
import { clock } from "../ui/format";
import { Region } from "../ui/Region";
import { later } from "../ui/later";

// The device's store comes after the first view.
const Unsent = later(async () => {
  await atRest;
  return (await import("./Unsent")).Unsent;
}, null);

export function Everywhere({ me, children }: { me: string; children: ReactNode }) {
  const path = useLocation().pathname;
  const called = [...useSyncExternalStore(watch, stops)];
  const here = called.find(([plan]) => path.startsWith(`/plans/${plan}`));
  const elsewhere = called.filter((one) => one !== here);
  const last = elsewhere.sort((a, b) => Date.parse(b[1].stopped.at) - Date.parse(a[1].stopped.at))[0];
  return (
    <div className="flex h-full flex-col">
      {here && path !== `/plans/${here[0]}/run` ? <StopHere plan={here[0]} called={here[1]} /> : null}
      {last ? <StopElsewhere plan={last[0]} called={last[1]} more={elsewhere.length - 1} /> : null}
      {path.endsWith("/run") ? null : <Unsent me={me} />}
      <div className="min-h-0 flex-1 overflow-auto">
        <Region name="This page" of={path}>
          {children}
        </Region>
      </div>
    </div>
  );
}

/** On the plan that is shown. Its run's own page says it by itself. */
function StopHere({ plan, called: { stopped } }: { plan: string; called: Called }) {
  return (
    <div role="alert" className="border-4 border-over bg-tint" data-testid="stopped">
      <Link
        to={`/plans/${plan}/run`}
        className="flex min-h-11 items-center px-4 py-2 text-loud leading-tight font-semibold text-over"
      >
        ◆ STOP, {stopped.by}, {clock(stopped.at)}
        {stopped.why ? `: ${stopped.why}` : ""}. To the run
      </Link>
    </div>
  );
}

function StopElsewhere({ plan, called: { stopped, title }, more }: { plan: string; called: Called; more: number }) {
  return (
    <aside aria-label="Stopped elsewhere" aria-live="assertive" className="border-b-2 border-over bg-tint">
      <Link
        to={`/plans/${plan}/run`}
        className="flex min-h-11 items-center px-4 text-body leading-tight font-semibold text-over"
      >
        ◆ STOP on {title || "another plan"}, {stopped.by}, {clock(stopped.at)}
        {more ? ` (and ${more} more)` : ""}. To its run
      </Link>
    </aside>
  );
}

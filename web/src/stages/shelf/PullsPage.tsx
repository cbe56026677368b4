/** Own pull tests: pulled until it slips or breaks, written down as it was tied; what follows from them beside the catalogue. */
import { useState } from "react";
import { useParams } from "react-router";
import type { Catalogue, Pulls, Session } from "../../api/types";
import { TextField } from "../../ui/fields";
import { day } from "../../ui/format";
import { useSettings } from "../../ui/settings";
import { said } from "../../ui/format";
import { OwnRange } from "./OwnRange";
import { PullSheet } from "./PullSheet";
import { TeamHead } from "./TeamHead";
import { usePulls } from "./useShelf";

export function PullsPage({ session, catalogue }: { session: Session; catalogue: Catalogue }) {
  const { team } = useParams();
  const here = session.teams.find((one) => String(one.id) === team) ?? session.teams[0];
  return (
    <TeamHead
      title="Own pulls"
      session={session}
      team={here}
      to="/pulls"
      other={{ name: "Shelf", to: `/shelf/${here?.id ?? ""}` }}
    >
      {here ? <OwnPulls key={here.id} team={here.id} catalogue={catalogue} /> : null}
    </TeamHead>
  );
}

function OwnPulls({ team, catalogue }: { team: number; catalogue: Catalogue }) {
  const { pulls, add, leaveOut } = usePulls(team);
  const [entering, enter] = useState(false);
  if (!pulls) return <p className="mt-4 text-answer">Opening.</p>;
  return (
    <>
      <div className="mt-3 flex flex-wrap items-start gap-3">
        <p className="min-w-0 flex-1 basis-72">
          Pull until it slips or breaks; write down cord, rope, wraps, wet or dry, and what it looked like. Three are
          enough to stand beside the catalogue, thirty say much. A plan takes them over only where its leader decides
          so.
        </p>
        {pulls.writes ? (
          <button type="button" className="button button-main" onClick={() => enter(true)}>
            Write down a pull
          </button>
        ) : null}
      </div>
      {pulls.ranges.length ? (
        <section aria-label="What they say" className="mt-4">
          <h2 className="border-b-2 border-ink pb-1 font-semibold">What they say</h2>
          <ul>
            {pulls.ranges.map((one) => (
              <OwnRange key={one.name + one.gives} one={one} />
            ))}
          </ul>
          <p className="mt-1 font-label text-quiet">
            Where the next lies nineteen times in twenty: by the catalogue's range as what was believed before, and by
            what was pulled. What was pulled is never outside.
          </p>
        </section>
      ) : null}
      <section aria-label="Pulls" className="mt-5">
        <h2 className="border-b-2 border-ink pb-1 font-semibold">Pulls</h2>
        <ul>
          {pulls.pulls.map((one) => (
            <Made key={one.id} one={one} writes={pulls.writes} onLeaveOut={(why) => void leaveOut(one.id, why)} />
          ))}
        </ul>
        {pulls.pulls.length ? null : <p className="mt-3 text-answer">None yet.</p>}
      </section>
      {entering ? (
        <PullSheet catalogue={catalogue} last={pulls.pulls[0]?.pull ?? null} onAdd={add} onClose={() => enter(false)} />
      ) : null}
    </>
  );
}

interface MadeProps {
  one: Pulls["pulls"][number];
  writes: boolean;
  onLeaveOut: (why: string) => void;
}

const GAVE = { slipped: "slipped", broke: "broke", held: "held, stopped there" };

function Made({ one, writes, onLeaveOut }: MadeProps) {
  const [settings] = useSettings();
  const [asked, ask] = useState(false);
  const [why, setWhy] = useState("");
  const at = one.pull.force_n;
  const force = said({ low: at, expected: at, high: at, unit: "N" }, settings);
  return (
    <li className="border-b border-line py-2" data-pull={one.id}>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <b className={`min-w-24 text-answer tabular-nums ${one.left_out ? "line-through" : ""}`}>{force}</b>
        <span className="min-w-0 flex-1 basis-64">
          {GAVE[one.pull.gave]}: {one.name}
          {one.pull.looked ? ` – ${one.pull.looked}` : ""}
        </span>
        <span className="font-label text-quiet">
          {one.by}, {day(one.at)}
        </span>
        {writes ? (
          <button
            type="button"
            className="min-h-11 underline"
            onClick={() => (one.left_out ? onLeaveOut("") : ask(!asked))}
          >
            {one.left_out ? "Count it again" : "Leave it out"}
          </button>
        ) : null}
      </div>
      {one.odd ? <p className="text-over">◇ It stands apart from the others.</p> : null}
      {one.left_out ? (
        <p>
          Left out by {one.left_out_by}: {one.left_out}
        </p>
      ) : null}
      {asked && !one.left_out ? (
        <div className="flex flex-wrap items-end gap-2">
          <div className="min-w-48 flex-1">
            <TextField label="Why it does not count" value={why} onChange={setWhy} />
          </div>
          <button
            type="button"
            className="button"
            disabled={!why.trim()}
            onClick={() => {
              onLeaveOut(why);
              ask(false);
            }}
          >
            Leave it out
          </button>
        </div>
      ) : null}
    </li>
  );
}

/** What buys most: every single change tried, best first by what is wanted; touching one makes it and offers its line. */
import { useCallback, useState } from "react";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import type { BestChange, Goal } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { edited } from "../../plan/edits";
import type { OpenPlan } from "../../plan/usePlan";
import { useFollowing } from "../../plan/useFollowing";
import { useStill } from "../../plan/useStill";
import { Choice } from "../../ui/fields";
import { unbroken } from "../../ui/format";
import { Since } from "../../ui/Since";

const STILL_MS = 400;
const GOALS: Goal[] = ["hand", "margin", "haulers", "resets", "brake", "singles", "minutes"];

interface Props {
  open: OpenPlan;
  /** Whether a lowering state is looked at: then the brake hand is asked about first. */
  lowers: boolean;
  onClose: () => void;
  /** A change was made: the line that the log would keep. */
  /** What else was on the list, in words. */
  onMade: (others: string) => void;
}

/** So many of the other changes on the list are kept with a decision as considered. */
const CONSIDERED = 4;

/** What nobody knows yet and most hangs on: it is asked before anything is changed. */
function AskFirst({ document }: { document: OpenPlan["document"] }) {
  const ask = useCallback(async () => answered(await api.POST("/api/asks", { body: document })), [document]);
  const { answer: found } = useFollowing(ask);
  if (!found?.asks.length) return null;
  return (
    <section aria-label="Ask first" className="mx-4 mt-2 border-l-4 border-ink pl-3" data-testid="ask-first">
      <h3 className="font-semibold">Ask first</h3>
      <ol>
        {found.asks.map((one) => (
          <li key={one.id} className="py-0.5 leading-snug">
            <span className="text-body font-semibold">{one.question}</span>{" "}
            <span className="font-label text-base text-over">{one.text}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}

export function BuysMost({ open, lowers, onClose, onMade }: Props) {
  const [chosen, setGoal] = useState<Goal | null>(null);
  const goal = chosen ?? (lowers ? "brake" : "hand");
  const [{ force, length }] = useSettings();
  const still = useStill(open.document, STILL_MS);
  const [doing] = useState(newId);
  const ask = useCallback(
    async () =>
      answered(
        await api.POST("/api/best", {
          body: still,
          params: { query: { goal, force_unit: force, length_unit: length } },
          headers: { "X-Doing": doing },
        }),
      ),
    [still, goal, force, length, doing],
  );
  const { answer: found } = useFollowing(ask);
  const stale = found?.goal !== goal || still !== open.document;
  const make = (change: BestChange) => {
    open.edit((old) => edited(old, change.edits));
    const others = (found?.changes ?? []).filter((one) => one.id !== change.id).slice(0, CONSIDERED);
    onMade(others.map((one) => `${one.text} (${one.gain})`).join("; "));
  };
  return (
    <section aria-label="What buys most" className="pb-3">
      <div className="flex items-center justify-between px-4 pt-1.5">
        <h2 className="font-semibold">What buys most</h2>
        <button type="button" className="min-h-11 px-2 font-label underline" onClick={onClose}>
          load path
        </button>
      </div>
      <div className="px-4">
        <Choice
          label="for"
          value={goal}
          options={GOALS.map((id) => ({ id, name: NAMES[id] }))}
          onChange={(id) => setGoal(id as Goal)}
        />
      </div>
      <AskFirst document={still} />
      {found ? (
        <div aria-busy={stale} className={stale ? "opacity-60" : ""}>
          <p className="px-4 pt-1.5 font-label text-base" data-testid="tried" role="status">
            Now <b className="text-over">{unbroken(found.now)}</b>. {found.tried} changes tried, {found.helping} help.
          </p>
          <ol aria-label="Changes, best first" className="mt-1">
            {found.changes.map((change) => (
              <li key={change.id} className="border-b border-line px-4 py-1.5" data-change={change.text}>
                <div className="flex items-start gap-2">
                  <p className="min-w-0 flex-1 text-body leading-tight font-semibold">{change.text}</p>
                  <button
                    type="button"
                    className="button px-3"
                    disabled={!open.canEdit || stale}
                    aria-label={`Do it: ${change.text}`}
                    onClick={() => make(change)}
                  >
                    Do it
                  </button>
                </div>
                <p className="text-body font-semibold text-over">{unbroken(change.gain)}</p>
                <ul className="font-label text-note leading-snug">
                  {change.outcomes
                    .filter((one) => one.goal !== goal)
                    .map((one) => (
                      <li key={one.goal} className={one.better === "worse" ? "" : "text-quiet"}>
                        {one.better === "worse" ? "◇ " : "■ "}
                        {one.name.toLowerCase()} {unbroken(`${one.now} → ${one.then}`)}
                      </li>
                    ))}
                </ul>
              </li>
            ))}
          </ol>
          {found.changes.length ? null : <p className="px-4 py-1">No single change helps by this.</p>}
          {found.stopped.length ? (
            <>
              <h3 className="px-4 pt-3 font-semibold">It would help, but bring a stop</h3>
              <ul aria-label="Changes that would bring a stop">
                {found.stopped.map((change) => (
                  <li key={change.id} className="border-b border-line px-4 py-1.5">
                    <p className="text-body leading-tight font-semibold">{change.text}</p>
                    <p className="text-base text-over">{unbroken(change.gain)}</p>
                    {(change.brings ?? []).map((text) => (
                      <p key={text} className="font-label text-note font-semibold text-over">
                        ◆ {text}
                      </p>
                    ))}
                  </li>
                ))}
              </ul>
            </>
          ) : null}
          {found.inspect.length ? (
            <>
              <h3 className="px-4 pt-3 font-semibold">To inspect</h3>
              <ul className="px-4 font-label text-base">
                {found.inspect.map((text) => (
                  <li key={text}>{text}</li>
                ))}
              </ul>
            </>
          ) : null}
          {found.costs.length ? (
            <>
              <h3 className="px-4 pt-3 font-semibold">What each part costs now</h3>
              <dl className="px-4" data-testid="costs">
                {found.costs.map((one) => (
                  <div key={one.crossing} className="flex justify-between gap-3 py-0.5">
                    <dt className="font-label text-base">{one.text}</dt>
                    <dd className="font-semibold whitespace-nowrap text-over">{one.cost}</dd>
                  </div>
                ))}
              </dl>
            </>
          ) : null}
          {found.one_pulley.length ? (
            <>
              <h3 className="px-4 pt-3 font-semibold">One pulley only, the rest bare carabiners</h3>
              <ul className="px-4 font-label text-base" data-testid="one-pulley">
                {found.one_pulley.map((one) => (
                  <li key={one}>{one}</li>
                ))}
              </ul>
            </>
          ) : null}
        </div>
      ) : (
        <p role="status" className="p-4">
          <Since doing={doing}>Trying every change.</Since>
        </p>
      )}
    </section>
  );
}

const NAMES: Record<Goal, string> = {
  margin: "Weakest margin",
  hand: "Pull at the hands",
  brake: "Brake hand",
  haulers: "Haulers",
  resets: "Resets",
  singles: "One thing alone",
  minutes: "Minutes",
};

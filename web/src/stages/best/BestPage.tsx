/** The best rigs out of the bags: those that none betters in everything, each with why it and not the next; one touch takes one. */
import { createPatch } from "rfc6902";
import { useCallback, useMemo, useState } from "react";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import type { Document, RigOffer, Rigs } from "../../api/types";
import { FrontPlot } from "../../drawing/FrontPlot";
import { edited, type Edit } from "../../plan/edits";
import type { OpenPlan } from "../../plan/usePlan";
import { useFollowing } from "../../plan/useFollowing";
import { unbroken } from "../../ui/format";
import { useSettings } from "../../ui/settings";
import { Since } from "../../ui/Since";
import { RigTold } from "./RigTold";
import { questionsOf, type Question } from "./questions";

interface Props {
  open: OpenPlan;
  /** What else was on the list, in words. */
  onMade: (others: string) => void;
  onCheck: () => void;
}

/** A rig that was taken, with the edits that take it back. */
interface Taken {
  letter: string;
  back: Edit[];
}

export function BestPage({ open, onMade, onCheck }: Props) {
  const [asked, ask] = useState<Document>(open.document);
  const [question, put] = useState<string>("");
  const [chosen, choose] = useState<string | null>(null);
  const [taken, take] = useState<Taken | null>(null);
  const [first, setFirst] = useState<Rigs | null>(null);
  const questions = questionsOf(asked);
  const now = questions.find((one) => one.id === question) ?? questions[0]!;
  const { found, of, faults, doing } = useRigs(asked, now, setFirst);
  const current = found && of === now.id ? found : null;
  const rig = current?.rigs.find((one) => one.letter === chosen) ?? current?.rigs[0] ?? null;
  // A rig taken and taken back is the same plan.
  const moved = useMemo(() => createPatch(asked, open.document).length > 0, [asked, open.document]);
  const takeIt = (one: RigOffer) => {
    const after = edited(asked, one.edits);
    take({ letter: one.letter, back: createPatch(after, asked) as Edit[] });
    open.edit(() => after);
    onMade(
      (current?.rigs ?? [])
        .filter((other) => other !== one)
        .slice(0, 3)
        .map((other) => other.log)
        .join("; "),
    );
  };
  const again = () => {
    take(null);
    choose(null);
    setFirst(null);
    ask(open.document);
  };
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_clamp(330px,42%,560px)] narrow:block narrow:overflow-y-auto">
      <main tabIndex={-1} className="flex min-h-0 min-w-0 flex-col bg-sheet px-4 pt-2 pb-3 narrow:px-2.5">
        <div className="flex flex-wrap items-baseline gap-x-3">
          <h2 className="text-head font-semibold">Out of the bags</h2>
          <p className="font-label text-quiet" role="status" data-testid="tried">
            {current ? (
              unbroken(
                `${current.tried.toLocaleString("en").replaceAll(",", " ")} rigs tried in ${current.seconds.toFixed(1)} s, ${current.rigs.length} worth a look`,
              )
            ) : faults.length ? null : (
              <Since doing={doing}>Going through every rig.</Since>
            )}
          </p>
        </div>
        <label className="mt-1 flex flex-wrap items-center gap-2 font-label">
          What if
          <select
            className="field min-h-11 min-w-0 flex-1"
            value={now.id}
            onChange={(event) => {
              put(event.target.value);
              choose(null);
            }}
          >
            {questions.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </label>
        {faults.map((one) => (
          <p key={one.problem} className="mt-2 border-l-4 border-over pl-3 text-body text-over" role="alert">
            {one.path}: {one.problem}; {one.right}.
          </p>
        ))}
        {current?.nothing.length ? (
          <div className="mt-2 border-l-4 border-over pl-3" role="status">
            <p className="text-answer font-semibold">No rig out of these bags keeps the rule.</p>
            {current.nothing.filter(Boolean).map((one) => (
              <p key={one} className="text-body">
                {one}
              </p>
            ))}
          </div>
        ) : null}
        {current?.unsaid.length ? (
          <p className="mt-1 font-label text-note text-quiet">
            Nobody counted the {current.unsaid.join(", the ")}: of them only what the plan has is tried. Size-up, Bags.
          </p>
        ) : null}
        {current?.rigs.length ? (
          <div className="mt-2 min-h-0 flex-1 narrow:h-72">
            <FrontPlot rigs={current.rigs} chosen={rig?.letter ?? ""} onChoose={choose} />
          </div>
        ) : null}
        {current && first && now.id && current.rigs.length ? (
          <Changed first={first} now={current} name={now.name} />
        ) : null}
      </main>
      <section
        aria-label="The rig chosen"
        className="min-h-0 overflow-y-auto border-l-2 border-line bg-sheet px-4 pt-2 pb-3 narrow:border-l-0"
      >
        {taken ? (
          <div
            role="status"
            data-testid="taken"
            className="mb-2 flex flex-wrap items-center gap-2 border-2 border-ink px-3 py-1"
          >
            <p className="flex-1 text-body">
              <b>{taken.letter}</b> is in the plan now. The check asks it anew.
            </p>
            <button type="button" className="button" onClick={onCheck}>
              Check it
            </button>
            <button
              type="button"
              className="button"
              onClick={() => {
                open.edit((old) => edited(old, taken.back));
                take(null);
              }}
            >
              Take it back
            </button>
          </div>
        ) : null}
        {moved ? (
          <p className="mb-2 flex flex-wrap items-center gap-2 text-body">
            The plan has changed since these were worked out.
            <button type="button" className="button" onClick={again}>
              Ask again
            </button>
          </p>
        ) : null}
        {rig ? <RigTold rig={rig} canTake={open.canEdit && !moved} onTake={() => takeIt(rig)} /> : null}
        <p className="mt-3 border-t border-line pt-1.5 font-label text-note leading-tight text-quiet">
          {open.report?.caution}
        </p>
      </section>
    </div>
  );
}

function useRigs(asked: Document, now: Question, setFirst: (found: Rigs) => void) {
  const [{ force, length }] = useSettings();
  const [doing] = useState(newId);
  const work = useCallback(async () => {
    const found = answered(
      await api.POST("/api/rigs", {
        body: asked,
        params: { query: { ...now.asks, force_unit: force, length_unit: length } },
        headers: { "X-Doing": doing },
      }),
    );
    if (!now.id) setFirst(found);
    return { found, of: now.id };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- a question is known by its id
  }, [asked, now.id, force, length, doing]);
  const { answer, faults } = useFollowing(work);
  return { found: answer?.found ?? null, of: answer?.of ?? null, faults, doing };
}

/** The best by each, as the bags are and as was asked. */
function Changed({ first, now, name }: { first: Rigs; now: Rigs; name: string }) {
  return (
    <table className="mt-2 w-full font-label text-base" data-testid="changed">
      <thead>
        <tr className="text-left text-quiet">
          <th className="font-normal">best by</th>
          <th className="font-normal">as it is</th>
          <th className="font-normal">{name}</th>
        </tr>
      </thead>
      <tbody>
        {now.best.map((one) => {
          const before = first.best.find((other) => other.goal === one.goal);
          return (
            <tr key={one.goal} className={before?.text === one.text ? "" : "font-semibold text-over"}>
              <td>{one.name.toLowerCase()}</td>
              <td>{before?.text ?? "none"}</td>
              <td>{one.text}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

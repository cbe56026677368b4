/** Practice: what is due, rounds of drills, knots tied before somebody. It touches no plan, no log, no gear. */
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Drill, Session, SkillKept, TyingKept } from "../../api/types";
import { answered, api } from "../../device/client";
import { day } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";
import { AboutPlan } from "./AboutPlan";
import { Round } from "./Round";
import { TableTops } from "./TableTops";
import { TeamPractice } from "./TeamPractice";
import { TyingSheet } from "./TyingSheet";
import { usePractice } from "./usePractice";

const ROUND = 10;

export function PracticePage({ session }: { session: Session }) {
  const { view = "" } = useParams();
  const navigate = useNavigate();
  const { known, waiting, wrong, round, answer, again } = usePractice(session.username);
  const [drills, setDrills] = useState<Drill[] | null>(null);
  const [about, setAbout] = useState<string | null>(null);
  const [knot, setKnot] = useState<TyingKept | null>(null);
  const [forgets, forget] = useState(false);
  const leads = session.teams.filter((one) => one.role === "leader");
  const begin = (skill?: string[]) => {
    setAbout(null);
    void round(ROUND, skill).then(setDrills);
  };
  const beginAbout = async (plan: string) => {
    setDrills(await round(ROUND, undefined, plan));
    setAbout(plan);
  };
  const gone = async () => {
    answered(await api.DELETE("/api/practice"));
    forget(false);
    await again();
  };
  return (
    <div className="flex h-full min-h-[480px] flex-col bg-sheet">
      <header>
        <div className="flex flex-wrap items-center gap-3 border-b border-line px-4 py-1">
          {drills ? (
            <button type="button" className="button px-3" aria-label="Leave the round" onClick={() => setDrills(null)}>
              ‹
            </button>
          ) : (
            <Link to={view ? "/practice" : "/plans"} className="button flex items-center px-3" aria-label="Back">
              ‹
            </Link>
          )}
          <h1 className="mr-auto text-head font-semibold">Practice</h1>
          {waiting ? <p className="font-label text-quiet">{waiting} not sent yet</p> : null}
        </div>
        <p className="border-b-4 border-ink bg-film px-4 py-1 font-label font-semibold">
          Practice: nothing here touches a plan, a log, gear or readings.
        </p>
      </header>
      <main tabIndex={-1} className="min-h-0 flex-1 overflow-y-auto px-4 pb-6">
        <div className="mx-auto max-w-3xl">
          {wrong ? (
            <p role="alert" className="mt-2 border-l-4 border-over bg-tint px-3 py-1.5 text-answer font-semibold">
              ◆ {wrong}
            </p>
          ) : null}
          {drills ? (
            drills.length ? (
              <Round
                drills={drills}
                onAnswer={(drill, given, took_s) => answer(drill, given, took_s, about)}
                onDone={() => {
                  setDrills(null);
                  void again();
                }}
              />
            ) : (
              <p className="mt-4 text-answer">
                ◆ Without a connection there are no more drills on this device. With one, they are fetched ahead.
              </p>
            )
          ) : view === "team" ? (
            leads.map((one) => (
              <TeamPractice
                key={one.id}
                team={one}
                onEvening={(skills) => {
                  begin(skills);
                  void navigate("/practice");
                }}
              />
            ))
          ) : known ? (
            <>
              <div className="mt-4 flex flex-wrap items-center gap-4">
                <p className="mr-auto text-loud font-semibold" data-testid="due">
                  {known.due ? <span className="text-over">◆ {known.due} due</span> : "Nothing is due"}
                </p>
                {leads.length ? (
                  <Link to="/practice/team" className="button flex items-center">
                    What the team can do
                  </Link>
                ) : null}
                <button
                  type="button"
                  className="button button-main min-h-14 text-head max-sm:w-full"
                  onClick={() => begin()}
                >
                  Ten now
                </button>
              </div>
              <AboutPlan onBegin={beginAbout} />
              {session.teams.map((one) => (
                <TableTops key={one.id} team={one} />
              ))}
              <h2 className="mt-5 border-b-2 border-ink pb-1 font-semibold">Skills</h2>
              <ul>
                {known.skills.map((one) => (
                  <Skill key={one.skill} one={one} onBegin={() => begin([one.skill])} />
                ))}
              </ul>
              <h2 className="mt-5 border-b-2 border-ink pb-1 font-semibold">Tying, before a second person</h2>
              <ul>
                {known.tying.map((one) => (
                  <li key={one.knot} className="flex min-h-14 items-center gap-3 border-b border-line py-1">
                    <p className="min-w-0 flex-1">
                      <Link to={`/reference/${one.knot}`} className="text-answer underline">
                        {one.name}
                      </Link>
                      <span className="block font-label text-quiet">{tiedText(one)}</span>
                    </p>
                    {known.fellows.length ? (
                      <button type="button" className="button" onClick={() => setKnot(one)}>
                        Tick somebody's
                      </button>
                    ) : null}
                  </li>
                ))}
              </ul>
              <button type="button" className="button mt-6" onClick={() => forget(true)}>
                Forget all that I practised
              </button>
            </>
          ) : (
            <p className="mt-4 text-answer">Opening.</p>
          )}
        </div>
      </main>
      <footer className="border-t border-line px-4 py-1 font-label text-mark text-quiet">{session.caution}</footer>
      {knot && known ? (
        <TyingSheet
          knot={knot}
          fellows={known.fellows}
          onClose={() => setKnot(null)}
          onKept={() => {
            setKnot(null);
            void again();
          }}
        />
      ) : null}
      {forgets ? (
        <Sheet title="Forget all that you practised" onClose={() => forget(false)} wide>
          <p className="text-answer">Every answer and every knot that was ticked for you is gone for good.</p>
          <button type="button" className="button button-main mt-3" onClick={() => void gone()}>
            Forget it
          </button>
        </Sheet>
      ) : null}
    </div>
  );
}

function Skill({ one, onBegin }: { one: SkillKept; onBegin: () => void }) {
  const due = one.is_due;
  const when = !one.due ? "never done" : due ? "due" : `again ${day(one.due)}`;
  return (
    <li className="border-b border-line">
      <button
        type="button"
        className="flex min-h-14 w-full items-center gap-3 py-1 text-left hover:bg-film"
        onClick={onBegin}
      >
        <span className="min-w-0 flex-1">
          <span className="block text-answer font-semibold">{one.name}</span>
          <span className="block font-label text-quiet">{one.about}</span>
        </span>
        <span className="text-right font-label whitespace-nowrap">
          <b className={due ? "text-over" : ""}>
            {due ? "◆ " : ""}
            {when}
          </b>
          {one.done ? (
            <span className="block text-quiet">
              {one.right} of {one.done} right, level {one.level}
            </span>
          ) : null}
        </span>
      </button>
    </li>
  );
}

function tiedText(one: TyingKept): string {
  if (!one.done) return "never ticked";
  const quickest = one.quickest_s ? `, ${one.quickest_s.toFixed(0)} s at the quickest` : "";
  return `${one.right} of ${one.done} right${quickest}${one.due ? `, again ${day(one.due)}` : ""}`;
}

/** The step now: who, what, what to look at, the words; what holds, what is behind it, hands off. */
import type { Operation, Run, Step } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { said, unbroken, upperFirst } from "../../ui/format";
import { RigNow } from "../../drawing/RigNow";
import { HowTied } from "../../ui/HowTied";

interface Props {
  step: Step;
  run: Run;
  operation: Operation;
  role: string;
  narrow: boolean;
  stopped: boolean;
  acts: boolean;
  leads: boolean;
  onDone: () => void;
  onBack: () => void;
  onSkip: () => void;
  onOther: () => void;
  onReturn: () => void;
  onTakeOver: () => void;
  onEnd: () => void;
  /** The steps of this procedure changed; null where they are not one's to change. */
  onProcedure: (() => void) | null;
}

export function StepNow(props: Props) {
  const { step, run, operation, role, narrow, stopped, acts, leads } = props;
  const section = operation.sections.find((one) => one.id === step.section);
  const mine = step.who.some((one) => one.acts && one.role === role);
  const place = section ? section.steps.indexOf(step.key) + 1 : (run.contingency?.place ?? 0) + 1;
  const count = section?.steps.length ?? run.contingency?.steps.length ?? 1;
  const name = section?.name ?? run.contingency?.name ?? "";
  const wrong = step.wrong ? <p className="text-body leading-snug text-quiet">What goes wrong: {step.wrong}</p> : null;
  return (
    <>
      <Sections operation={operation} step={step} place={place} count={count} />
      <div className="mt-1.5 flex items-start justify-between gap-3 font-label text-body text-quiet">
        <p>
          {run.contingency ? "◇ Something else: " : ""}
          {name}
          {section?.text ? `, ${section.text}` : ""}, step {place} of {count}
        </p>
        {"speechSynthesis" in window ? (
          <button
            type="button"
            className="-my-2.5 min-h-11 shrink-0 px-2 underline"
            onClick={() => aloud([step.do, step.moves_text, step.look && `Look: ${step.look}`])}
          >
            Read aloud
          </button>
        ) : null}
      </div>
      <h2
        className={`leading-[1.1] font-semibold ${step.do.length > 90 ? "text-loud" : "text-call"}`}
        data-testid="step"
        data-key={step.key}
      >
        {step.do} {step.moves_text ? <span className="whitespace-nowrap text-over">{step.moves_text}.</span> : null}
      </h2>
      <p className="mt-1.5 text-head leading-snug">
        <People rows={step.who.filter((one) => one.acts)} role={role} />
        <span className="text-quiet">
          {step.who.some((one) => !one.acts) ? "; in their places: " : ""}
          <People rows={step.who.filter((one) => !one.acts)} role={role} />
        </span>
        {mine || !role || role === "leader" ? "" : ". You keep your place."}
      </p>
      {step.look ? <p className="mt-1 text-answer leading-snug text-quiet">Look: {step.look}</p> : null}
      <HowTied drawn={step.drawn} />
      {narrow ? <Spoken step={step} /> : null}
      {narrow ? null : wrong}
      {narrow ? null : <Holds step={step} />}
      {step.lies?.map((one) => (
        <p
          key={one}
          className="mt-1 border-l-4 border-ink bg-film px-3 py-1 text-body font-semibold"
          data-testid="lies"
        >
          ◇ {one}
        </p>
      ))}
      {step.refused.map((one) => (
        <p
          key={one}
          className="mt-1 border-l-4 border-over bg-tint px-3 py-1 text-body font-semibold"
          data-testid="refused"
        >
          ◆ {one}
        </p>
      ))}
      {step.questions?.map((one) => (
        <p
          key={one}
          className="mt-1 border-l-4 border-over bg-tint px-3 py-1 text-body leading-snug font-semibold"
          data-testid="question"
        >
          ◆ {one}
        </p>
      ))}
      {narrow ? null : (
        <div className="mt-2">
          <RigNow step={step} />
        </div>
      )}
      <div className="sticky bottom-0 z-10 mt-2 grid grid-cols-[minmax(0,2fr)_minmax(0,1fr)_minmax(0,1fr)] gap-3 bg-sheet pt-1 max-sm:grid-cols-2 narrow:static">
        {run.all_done ? (
          <button
            type="button"
            className="button button-main min-h-[68px] text-loud whitespace-normal max-sm:col-span-2"
            disabled={!leads}
            onClick={props.onEnd}
            data-testid="end"
          >
            Everything is done. End the run
          </button>
        ) : (
          <button
            type="button"
            className="button button-main min-h-[68px] text-loud whitespace-normal max-sm:col-span-2"
            disabled={stopped || !acts || step.refused.length > 0}
            onClick={props.onDone}
            data-testid="done"
          >
            {step.words ? `“${upperFirst(step.words)}.” Done` : "Done"}
          </button>
        )}
        {run.contingency ? (
          <button
            type="button"
            className="button min-h-[68px] leading-tight whitespace-normal"
            disabled={!acts}
            onClick={props.onReturn}
          >
            Back to the step
          </button>
        ) : (
          <button
            type="button"
            className="button min-h-[68px] leading-tight whitespace-normal"
            disabled={!leads}
            onClick={props.onBack}
          >
            Back
          </button>
        )}
        <button
          type="button"
          className="button min-h-[68px] leading-tight whitespace-normal"
          disabled={!acts}
          onClick={props.onOther}
        >
          Something else happened
        </button>
      </div>
      {narrow ? wrong : null}
      {narrow ? <Yours step={step} operation={operation} role={role} /> : null}
      {leads && !run.contingency && !run.all_done ? (
        <div className="mt-1 flex gap-4 font-label text-quiet">
          <button type="button" className="min-h-11 px-1 underline" disabled={stopped} onClick={props.onSkip}>
            Skip this step
          </button>
          <button type="button" className="min-h-11 px-1 underline" disabled={stopped} onClick={props.onTakeOver}>
            The rig is otherwise …
          </button>
          {props.onProcedure ? (
            <button type="button" className="min-h-11 px-1 underline" onClick={props.onProcedure}>
              Change the steps to come
            </button>
          ) : null}
        </div>
      ) : null}
    </>
  );
}

/** What is to be done, spoken: whoever has both hands on a rope hears it. */
function aloud(said: string[]) {
  window.speechSynthesis.cancel();
  window.speechSynthesis.speak(new SpeechSynthesisUtterance(said.filter(Boolean).join(" ")));
}

function People({ rows, role }: { rows: Step["who"]; role: string }) {
  return rows.map((one, index) => (
    <span key={one.role}>
      {index ? ", " : ""}
      <b className={one.role === role ? "text-over" : ""}>{one.name || "nobody"}</b> {one.duty}
    </span>
  ));
}

/** Every section as a bar as long as its steps; the one now filled as far as it has come. */
function Sections({
  operation,
  step,
  place,
  count,
}: {
  operation: Operation;
  step: Step;
  place: number;
  count: number;
}) {
  const here = operation.sections.findIndex((one) => one.id === step.section);
  return (
    <div className="flex gap-1" aria-hidden>
      {operation.sections
        .filter((one) => one.steps.length)
        .map((one) => {
          const index = operation.sections.indexOf(one);
          const share = index < here ? 1 : index === here ? (place - 1) / count : 0;
          return (
            <div key={one.id} className="h-2 bg-line" style={{ flexGrow: one.steps.length }}>
              <div className={`h-full ${index === here ? "bg-over" : "bg-ink"}`} style={{ width: `${share * 100}%` }} />
            </div>
          );
        })}
    </div>
  );
}

/** What holds, in one sentence: a phone has room for no more. */
function Spoken({ step }: { step: Step }) {
  const { holds } = step;
  const loud = holds.behind_m === null || holds.hands_off_m === null;
  if (holds.grounded) return <p className="mt-1.5 text-answer">The load is on the ground.</p>;
  return (
    <p className="mt-1.5 text-answer leading-snug" data-testid="holds-now">
      Load hangs on <b>{holds.on_text.toLowerCase()}</b>; behind it{" "}
      <b className={loud || holds.behind_m! > 0.01 ? "text-over" : ""}>{unbroken(holds.behind_text.toLowerCase())}</b>;
      hands off: <b className={loud ? "text-over" : ""}>{unbroken(holds.hands_off_text.toLowerCase())}</b>.
    </p>
  );
}

/** What somebody of this role looks after in this stretch of the work, and what comes to them next. */
function Yours({ step, operation, role }: { step: Step; operation: Operation; role: string }) {
  const section = operation.sections.find((one) => one.id === step.section);
  const theirs = (one: Step) => one.who.some((who) => who.acts && who.role === role);
  const here = operation.steps.filter((one) => section?.steps.includes(one.key) && theirs(one));
  const looks = [...new Set(here.map((one) => one.look).filter(Boolean))];
  const index = operation.steps.findIndex((one) => one.key === step.key);
  const next = operation.steps.slice(index + 1).find(theirs);
  if (!role || (!looks.length && !next)) return null;
  return (
    <div className="mt-3 text-answer leading-snug" data-testid="yours">
      <h3 className="font-label text-quiet">You look after</h3>
      {looks.map((one) => (
        <p key={one}>{one}</p>
      ))}
      {next ? (
        <p>
          <span className="font-label text-quiet">yours next: </span>
          <b>{next.do}</b>
        </p>
      ) : null}
    </div>
  );
}

type Loaded = Step["holds"]["on"][number];

function Holds({ step }: { step: Step }) {
  const [settings] = useSettings();
  const { holds, hands } = step;
  const force = (one: NonNullable<Loaded["force_n"]>) => said({ ...one, unit: "N" }, settings);
  const grounded = holds.grounded;
  const borne = holds.on.filter((one) => one.force_n);
  const nothing = holds.behind_m === null;
  const falls = holds.hands_off_m === null;
  const box = "min-w-0 border-l-[5px] bg-film px-3 py-1.5";
  const big = "text-head leading-tight font-semibold";
  return (
    <div
      className="mt-2 grid grid-cols-[1.1fr_1.2fr_1fr] gap-3 max-sm:grid-cols-1 max-sm:gap-1.5"
      data-testid="holds-now"
    >
      <div className={`${box} border-ink`}>
        <p className="font-label text-quiet">holds on</p>
        <p className={big}>{grounded ? "The ground" : holds.on_text}</p>
        <p className="font-label">
          {grounded
            ? step.section === "derig"
              ? "nothing hangs"
              : "not loaded yet"
            : borne.map((one) => (borne.length > 1 ? `${one.name} ` : "") + force(one.force_n!)).join(", ")}
        </p>
      </div>
      <div
        className={`${box} ${nothing ? "border-over bg-tint!" : holds.behind_m! > 0.01 ? "border-over" : "border-ink"}`}
      >
        <p className="font-label text-quiet">behind it</p>
        <p className={`${big} ${nothing ? "text-over" : ""}`}>
          {nothing ? "◆ " : ""}
          {unbroken(holds.behind_text)}
        </p>
        {holds.alone.length && !grounded ? (
          <p className="font-label leading-tight">on {holds.alone.join(", ")} alone</p>
        ) : null}
      </div>
      <div className={`${box} ${falls ? "border-over bg-tint!" : "border-ink"}`}>
        <p className="font-label text-quiet">hands off</p>
        <p className={`${big} ${falls ? "text-over" : ""}`}>
          {falls ? "◆ " : ""}
          {unbroken(holds.hands_off_text)}
        </p>
        {hands ? (
          <p className={`font-label leading-tight ${hands.needed > hands.there ? "font-semibold text-over" : ""}`}>
            {hands.needed > hands.there ? "◆ " : ""}
            {hands.needed} to pull, {hands.there} there{hands.ideal ? `, ${hands.ideal} : 1` : ""}
            {hands.bare ? `; without a block ${hands.bare}` : ""}
          </p>
        ) : null}
      </div>
    </div>
  );
}

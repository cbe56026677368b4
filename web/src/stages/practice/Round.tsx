/** Drills one after another: asked, answered by a touch, marked at once with how it was worked out. */
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { Drill } from "../../api/types";
import { Shown } from "../../drawing/Shown";

interface Props {
  drills: Drill[];
  onAnswer: (drill: Drill, given: number[], took_s: number) => void;
  onDone: () => void;
}

export function Round({ drills, onAnswer, onDone }: Props) {
  const [number, setNumber] = useState(0);
  const [right, setRight] = useState<boolean[]>([]);
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    heading.current?.focus({ preventScroll: true });
    heading.current?.closest("main")?.scrollTo({ top: 0 });
  }, [number]);
  const drill = drills[number];
  if (!drill)
    return (
      <section aria-label="The round" className="mt-4">
        <h2 ref={heading} tabIndex={-1} className="text-loud font-semibold">
          {right.filter(Boolean).length} of {drills.length} right
        </h2>
        <ul className="mt-2 text-answer">
          {drills.map((one, at) => (
            <li key={`${one.skill} ${one.seed}`} className={right[at] ? "" : "font-semibold text-over"}>
              {right[at] ? "■" : "◆"} {one.name}
            </li>
          ))}
        </ul>
        <button type="button" className="button button-main mt-4 min-h-14 w-full text-head" onClick={onDone}>
          Done
        </button>
      </section>
    );
  return (
    <section aria-label="The round" className="mt-3">
      <p className="font-label text-quiet">
        {number + 1} of {drills.length}: {drill.name}
      </p>
      <h2 ref={heading} tabIndex={-1} className="text-head leading-snug font-semibold outline-none">
        {drill.question}
      </h2>
      <One
        key={`${drill.skill} ${drill.seed}`}
        drill={drill}
        onAnswer={(given, took_s) => {
          setRight([...right, same(given, drill.right)]);
          onAnswer(drill, given, took_s);
        }}
        onNext={() => setNumber(number + 1)}
      />
    </section>
  );
}

function same(one: number[], other: number[]): boolean {
  return one.length === other.length && one.every((value, at) => value === other[at]);
}

function One({
  drill,
  onAnswer,
  onNext,
}: {
  drill: Drill;
  onAnswer: (given: number[], took_s: number) => void;
  onNext: () => void;
}) {
  const [given, setGiven] = useState<number[]>([]);
  const began = useRef(0);
  useEffect(() => {
    began.current = performance.now();
  }, []);
  const whole = given.length === drill.right.length;
  const good = whole && same(given, drill.right);
  const touch = (at: number, when: number) => {
    if (whole) return;
    const next = given.includes(at) ? given.filter((one) => one !== at) : [...given, at];
    setGiven(next);
    if (next.length === drill.right.length) onAnswer(next, Math.max(0, when - began.current) / 1000);
  };
  return (
    <>
      {drill.facts.length ? (
        <ul className="mt-2 border-l-4 border-line pl-3 text-body">
          {drill.facts.map((one) => (
            <li key={one}>{one}.</li>
          ))}
        </ul>
      ) : null}
      {drill.shown ? (
        <div className="mt-2">
          <Shown shown={drill.shown} />
        </div>
      ) : null}
      <p className="mt-2 font-label text-quiet">{drill.in_order ? "Touch them in order." : "Touch one."}</p>
      <ul aria-label="Answers" className="mt-1 flex flex-col gap-2">
        {drill.options.map((text, at) => (
          <li key={text}>
            <Option
              text={text}
              place={drill.in_order && given.includes(at) ? given.indexOf(at) + 1 : 0}
              given={given.includes(at)}
              right={whole ? drill.right.includes(at) && (!drill.in_order || good) : null}
              belongs={whole && drill.in_order && !good ? drill.right.indexOf(at) + 1 : 0}
              onTouch={(when) => touch(at, when)}
            />
          </li>
        ))}
      </ul>
      <div aria-live="polite" className="mt-3">
        {whole ? (
          <>
            <p className={`text-head font-semibold ${good ? "" : "text-over"}`} data-testid="marked">
              {good ? "■ Right" : "◆ Wrong"}
            </p>
            {drill.because.map((one) => (
              <p key={one} className="text-answer leading-snug">
                {one}
              </p>
            ))}
            {drill.open ? (
              <Link to={`/reference/${drill.open}`} className="mt-1 inline-block text-answer underline">
                See it drawn
              </Link>
            ) : null}
          </>
        ) : null}
      </div>
      {whole ? (
        <button type="button" className="button button-main mt-3 min-h-14 w-full text-head" onClick={onNext}>
          Next ▸
        </button>
      ) : null}
    </>
  );
}

function Option({
  text,
  place,
  given,
  right,
  belongs,
  onTouch,
}: {
  text: string;
  /** As which it was touched, where they are put in order. */
  place: number;
  given: boolean;
  /** Not known before it is answered. */
  right: boolean | null;
  /** As which it should have been. */
  belongs: number;
  onTouch: (when: number) => void;
}) {
  const mark = right === null ? (place ? `${place}. ` : "") : right ? "■ " : given && !belongs ? "◆ " : "";
  const tone = right ? "border-4 border-ink" : right === false && given ? "border-over text-over" : "";
  return (
    <button
      type="button"
      className={`button h-auto min-h-14 w-full px-4 py-2 text-left text-answer leading-snug whitespace-normal ${tone}`}
      aria-pressed={given}
      onClick={(event) => onTouch(event.timeStamp)}
    >
      {mark}
      {belongs ? `${belongs}. ` : ""}
      {text}
    </button>
  );
}

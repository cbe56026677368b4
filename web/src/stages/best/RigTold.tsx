/** One rig: what it asks and gives, why it and not the next, what it takes out of the bags, and the touch that takes it. */
import type { RigOffer } from "../../api/types";
import { unbroken } from "../../ui/format";

interface Props {
  rig: RigOffer;
  canTake: boolean;
  onTake: () => void;
}

export function RigTold({ rig, canTake, onTake }: Props) {
  return (
    <div data-rig={rig.letter}>
      <div className="flex items-start gap-3">
        <h3 className="min-w-0 flex-1 text-answer leading-tight font-semibold">
          {rig.letter}: {rig.text}
        </h3>
        <button type="button" className="button button-main flex-none" disabled={!canTake || rig.now} onClick={onTake}>
          {rig.now ? "It is so" : "Take this one"}
        </button>
      </div>
      <dl className="mt-2 grid grid-cols-3 gap-x-4 gap-y-1 narrow:grid-cols-2">
        {rig.figures.map((one) => (
          <div key={one.goal} className={one.goal === "margin" ? "col-span-full" : ""}>
            <dt className="font-label text-note text-quiet">{one.name.toLowerCase()}</dt>
            <dd className="text-answer leading-tight font-semibold text-over">{unbroken(one.text)}</dd>
          </div>
        ))}
      </dl>
      {rig.best_in ? <p className="mt-2 text-body font-semibold">{rig.best_in} of these.</p> : null}
      {rig.why.map((one) => (
        <Part key={one.letter} name={`Why it and not ${one.letter}`} text={one.text} />
      ))}
      {rig.uses_up ? <Part name="Takes" text={rig.uses_up} /> : null}
      {rig.stays ? <Part name="Stays in the bags" text={rig.stays} /> : null}
      {rig.carried.map((one) => (
        <Part
          key={one.bag}
          name={one.carried_by ? `Out of ${one.bag}, ${one.carried_by} carries it` : `Out of ${one.bag}`}
          text={one.things}
        />
      ))}
    </div>
  );
}

function Part({ name, text }: { name: string; text: string }) {
  return (
    <div className="mt-2">
      <h4 className="font-label text-note text-quiet">{name}</h4>
      <p className="text-body leading-snug">{text}</p>
    </div>
  );
}

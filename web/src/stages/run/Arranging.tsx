/** What a leader does to one section of the operation: earlier, later, left out, something after it, something instead of it. */
import { useState } from "react";
import type { Operation, RunOut } from "../../api/types";
import { Sheet } from "../../ui/Sheet";
import {
  added,
  fitting,
  given,
  moved,
  stretches,
  withInstead,
  without,
  withoutInstead,
  type SectionGiven,
} from "./arranged";
import type { Course } from "./useArranging";

/** What the plan itself makes: it has no steps to put in another order. */
export const FIXED = ["set-up", "check", "edge", "derig"];

export type Arrange = (operation: Course) => void;

type From = Pick<Course, "begins" | "belay">;

const BEGINS: [From, string][] = [
  [{ begins: "ground", belay: "harness" }, "on the ground"],
  [{ begins: "hanging", belay: "harness" }, "hanging"],
  [{ begins: "arrested", belay: "harness" }, "in an arrest on snow"],
  [{ begins: "belayed", belay: "harness" }, "on a belay from the harness"],
  [{ begins: "belayed", belay: "anchor" }, "on a belay from the anchor above"],
  [{ begins: "tension-line", belay: "harness" }, "by a tension line"],
];

function named({ begins, belay }: From): string {
  return belay === "anchor" ? `${begins}:anchor` : begins;
}

/** Where the operation begins, and back to what is composed for that. */
export function Beginning({ operation, onArrange }: { operation: Operation; onArrange: Arrange }) {
  return (
    <div className="flex flex-wrap items-center gap-3">
      <label className="flex items-center gap-2 text-answer">
        <span className="font-semibold whitespace-nowrap">The load is</span>
        <select
          className="field"
          value={named(from(operation))}
          onChange={(event) =>
            onArrange({ ...BEGINS.find(([one]) => named(one) === event.target.value)![0], sections: null })
          }
          data-testid="begins"
        >
          {BEGINS.map(([one, name]) => (
            <option key={name} value={named(one)}>
              {name}
            </option>
          ))}
        </select>
      </label>
      {operation.arranged ? (
        <button type="button" className="button" onClick={() => onArrange({ ...from(operation), sections: null })}>
          As composed
        </button>
      ) : null}
    </div>
  );
}

function from(operation: Operation): From {
  return { begins: operation.begins, belay: operation.belay } as From;
}

interface Props {
  place: number;
  out: RunOut;
  onArrange: Arrange;
  onProcedure: (id: string) => void;
  onBeginHere: (key: string) => void;
}

export function Arranging({ place, out, onArrange, onProcedure, onBeginHere }: Props) {
  const { operation } = out;
  const rows = stretches(operation)[place]!;
  const [first, last] = [rows[0]!, rows.at(-1)!];
  const [choosing, choose] = useState<"after" | "instead" | null>(null);
  const sections = given(operation);
  const put = (next: SectionGiven[]) => onArrange({ ...from(operation), sections: next });
  const going = out.run !== null && out.run.status !== "ended";
  return (
    <div className="flex flex-wrap gap-2 pb-3">
      <button type="button" className="button" disabled={place === 0} onClick={() => put(moved(sections, place, -1))}>
        Earlier
      </button>
      <button
        type="button"
        className="button"
        disabled={place === sections.length - 1}
        onClick={() => put(moved(sections, place, 1))}
      >
        Later
      </button>
      <button
        type="button"
        className="button"
        disabled={sections.length === 1}
        onClick={() => put(without(sections, place))}
      >
        Leave out
      </button>
      <button type="button" className="button" onClick={() => choose("after")}>
        Add after it …
      </button>
      {last.instead.length < MOST ? (
        <button type="button" className="button" onClick={() => choose("instead")}>
          If it does not come …
        </button>
      ) : null}
      {last.instead.map((one, number) => (
        <button
          key={one.id}
          type="button"
          className="button"
          onClick={() => put(withoutInstead(sections, place, number))}
        >
          Without “{one.name}”
        </button>
      ))}
      {FIXED.includes(first.procedure) ? null : (
        <button
          type="button"
          className="button"
          aria-label={`change its steps: ${first.name}`}
          onClick={() => onProcedure(first.procedure)}
        >
          Change its steps
        </button>
      )}
      {!going && place > 0 && first.steps[0] ? (
        <button type="button" className="button" onClick={() => onBeginHere(first.steps[0]!)}>
          Begin the run here …
        </button>
      ) : null}
      {choosing ? (
        <Fits
          title={choosing === "after" ? `After ${first.name}` : `Instead of ${first.name}`}
          choices={(choosing === "after" ? last.may_follow : fitting(operation, place)).filter(
            (one) => choosing === "after" || one.id !== first.procedure,
          )}
          asksWhen={choosing === "instead"}
          onChoose={(id, when) => {
            put(choosing === "after" ? added(sections, place, id) : withInstead(sections, place, when, id));
            choose(null);
          }}
          onClose={() => choose(null)}
        />
      ) : null}
    </div>
  );
}

const MOST = 4;
const WHEN = "it does not come";

/** What fits there, worked out: one touch takes it. */
function Fits({
  title,
  choices,
  asksWhen,
  onChoose,
  onClose,
}: {
  title: string;
  choices: Operation["may_begin"];
  asksWhen: boolean;
  onChoose: (id: string, when: string) => void;
  onClose: () => void;
}) {
  const [when, say] = useState(WHEN);
  return (
    <Sheet title={title} onClose={onClose} wide>
      {asksWhen ? (
        <label className="mb-3 flex items-center gap-2 text-answer">
          <span className="font-semibold">if</span>
          <input className="field flex-1" value={when} maxLength={200} onChange={(event) => say(event.target.value)} />
        </label>
      ) : null}
      {choices.length ? null : (
        <p className="text-answer">Nothing that there is begins with the rig that stands there.</p>
      )}
      <ul className="grid gap-2 sm:grid-cols-2">
        {choices.map((one) => (
          <li key={one.id}>
            <button
              type="button"
              className="button min-h-14 w-full text-left whitespace-normal"
              disabled={asksWhen && !when.trim()}
              onClick={() => onChoose(one.id, when.trim())}
            >
              {one.name}
            </button>
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

/** A pull written down: what was pulled, as it was tied, and what came of it. What stood in the last one stands here first. */
import { useState } from "react";
import type { Catalogue, Fault, PullMade } from "../../api/types";
import { newId } from "../../device/newId";
import { FaultContext } from "../../ui/faultContext";
import { Choice, NumberField, TextField } from "../../ui/fields";
import { OneOf } from "../../ui/OneOf";
import { Sheet } from "../../ui/Sheet";
import { Wrong } from "../../ui/Wrong";

interface Props {
  catalogue: Catalogue;
  last: PullMade | null;
  onAdd: (id: string, pull: PullMade) => Promise<Fault[]>;
  onClose: () => void;
}

const FIRST: PullMade = {
  of: "hitch",
  kind: "prusik-8",
  rope: "low-stretch-11",
  ropes: 1,
  cord: null,
  wraps: null,
  pulled: null,
  state: "dry",
  glazed: false,
  gave: "slipped",
  force_n: 0,
  looked: "",
};

const OF = [
  { id: "hitch", name: "Hitch, clamp" },
  { id: "knot", name: "Knot" },
  { id: "device", name: "Device" },
] as const;
const GAVE = [
  { id: "slipped", name: "Slipped" },
  { id: "broke", name: "Broke" },
  { id: "held", name: "Held" },
] as const;
const STATES = [
  { id: "dry", name: "Dry" },
  { id: "wet", name: "Wet" },
  { id: "icy", name: "Icy" },
  { id: "muddy", name: "Muddy" },
];
const PULLED = [
  { id: "loop", name: "On its loop" },
  { id: "along", name: "Along the line" },
  { id: "apart", name: "Loop pulled apart" },
  { id: "bend", name: "As a bend" },
];

export function PullSheet({ catalogue, last, onAdd, onClose }: Props) {
  const [pull, setPull] = useState<PullMade>({ ...FIRST, ...last, force_n: 0, looked: "" });
  // What came of it is said of each anew.
  const [gave, setGave] = useState<PullMade["gave"] | null>(null);
  const [force, setForce] = useState<number | null>(null);
  const [faults, setFaults] = useState<Fault[]>([]);
  const [id, setId] = useState(newId);
  const [kept, setKept] = useState(0);
  const put = (change: Partial<PullMade>) => setPull((now) => ({ ...now, ...change }));
  const kinds = { hitch: catalogue.hitches, knot: catalogue.knots, device: catalogue.devices }[pull.of];
  const tied = pull.of === "hitch" && catalogue.hitches[pull.kind]?.form === "hitch";
  const states = STATES.filter((one) => one.id in catalogue.conditions);
  const keep = async () => {
    if (force === null) {
      setFaults([{ path: "pull.force_n", problem: "at what force is not said", right: "what the gauge or cell read" }]);
      return;
    }
    if (gave === null) {
      setFaults([{ path: "pull.gave", problem: "what came of it is not said", right: "slipped, broke, or held" }]);
      return;
    }
    const said = { ...pull, gave, force_n: force };
    const found = await onAdd(
      id,
      tied ? said : { ...said, cord: null, wraps: null, ropes: pull.of === "hitch" ? pull.ropes : 1 },
    );
    setFaults(found);
    if (found.length) return;
    setId(newId());
    setForce(null);
    setGave(null);
    setKept(kept + 1);
  };
  return (
    <Sheet title="A pull" wide onClose={onClose}>
      <FaultContext.Provider value={faults}>
        <div className="flex flex-wrap gap-3">
          <OneOf
            label="What was pulled"
            value={pull.of}
            options={[...OF]}
            onChange={(of) =>
              put({ of, kind: "", cord: null, wraps: null, ropes: 1, pulled: of === "knot" ? "loop" : null })
            }
          />
        </div>
        <div className="mt-3 grid grid-cols-2 items-start gap-3 narrow:grid-cols-1">
          <Choice
            label="Which"
            path="pull.kind"
            value={pull.kind || null}
            options={Object.values(kinds)}
            onChange={(kind) => put({ kind: kind ?? "" })}
          />
          <Choice
            label="On which rope"
            path="pull.rope"
            value={pull.rope}
            options={Object.values(catalogue.ropes)}
            onChange={(rope) => put({ rope: rope ?? pull.rope })}
          />
          {tied ? (
            <>
              <Choice
                label="Tied of which cord"
                path="pull.cord"
                value={pull.cord ?? null}
                options={Object.values(catalogue.slings).filter((one) => one.cord)}
                onChange={(cord) => put({ cord })}
              />
              <NumberField
                label="Wraps"
                path="pull.wraps"
                value={pull.wraps ?? null}
                onChange={(wraps) => put({ wraps })}
              />
              <OneOf
                label="Round how many ropes"
                value={String(pull.ropes)}
                options={[
                  { id: "1", name: "Round one rope" },
                  { id: "2", name: "Round two" },
                ]}
                onChange={(ropes) => put({ ropes: ropes === "2" ? 2 : 1 })}
              />
            </>
          ) : null}
          {pull.of === "knot" ? (
            <Choice
              label="Pulled"
              value={pull.pulled ?? null}
              options={PULLED}
              onChange={(pulled) => put({ pulled: pulled as PullMade["pulled"] })}
            />
          ) : null}
          <OneOf
            label="Wet or dry"
            value={pull.state}
            options={states as { id: PullMade["state"]; name: string }[]}
            onChange={(state) => put({ state })}
          />
          <OneOf
            label="New or glazed"
            value={pull.glazed ? "glazed" : "new"}
            options={[
              { id: "new", name: "Not glazed" },
              { id: "glazed", name: "Glazed" },
            ]}
            onChange={(one) => put({ glazed: one === "glazed" })}
          />
        </div>
        <div className="mt-3 grid grid-cols-2 items-end gap-3 border-t-2 border-ink pt-3 narrow:grid-cols-1">
          <OneOf label="What came of it" value={gave} options={[...GAVE]} onChange={setGave} />
          <NumberField key={id} label="At" unit="N" path="pull.force_n" optional value={force} onChange={setForce} />
          <div className="col-span-full">
            <TextField label="What it looked like" value={pull.looked} onChange={(looked) => put({ looked })} />
          </div>
        </div>
        {faults
          .filter((one) => !/^pull\.(kind|rope|cord|wraps|force_n)$/.test(one.path))
          .map((one) => (
            <Wrong key={one.path + one.problem} className="mt-2">
              {one.problem}: {one.right}
            </Wrong>
          ))}
        <div className="mt-4 flex flex-wrap items-center gap-3">
          <button type="button" className="button button-main" onClick={() => void keep()}>
            Write it down
          </button>
          <p role="status">{kept ? `${kept} written down. The next one, tied the same?` : ""}</p>
        </div>
      </FaultContext.Provider>
    </Sheet>
  );
}

/** How things are tied: joins and damage of a rope, its age and look, cords and wraps of the hitches on a line. */
import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import type { Catalogue, HitchMade, Line, Rope } from "../../api/types";
import { Choice, NumberField } from "../../ui/fields";
import { named, Remove, replaced, StateChoice } from "../../plan/ledger";
import { useRows } from "../../ui/useRows";

interface RopeProps {
  rope: Rope;
  path: string;
  catalogue: Catalogue;
  disabled: boolean;
  onChange: (change: Partial<Rope>) => void;
}

/** What somebody saw who looked at the rope from end to end. */
export function RopeLook({ rope, path, catalogue, disabled, onChange }: RopeProps) {
  const joins = rope.joins ?? [];
  const damage = rope.damage ?? [];
  const joinRows = useRows(joins.length);
  const damageRows = useRows(damage.length);
  const bends = Object.values(catalogue.knots).filter((one) => one.bend);
  const loops = Object.values(catalogue.knots).filter((one) => one.along);
  const row = "col-span-full grid grid-cols-[6rem_1fr_1fr_auto] narrow:grid-cols-2 items-end gap-2";
  const joined = "col-span-full grid grid-cols-[6rem_1fr_1fr_1fr_auto] narrow:grid-cols-2 items-end gap-2";
  return (
    <>
      <NumberField
        label="Age, years (empty: not known)"
        optional
        path={`${path}.age_years`}
        value={rope.age_years ?? null}
        disabled={disabled}
        onChange={(age_years) => onChange({ age_years })}
      />
      <Choice
        label="How it looks"
        none="nobody said"
        value={rope.wear ?? null}
        options={[
          { id: "new", name: "new" },
          { id: "used", name: "used, sound" },
          { id: "worn", name: "weathered, fuzzy" },
        ]}
        disabled={disabled}
        onChange={(wear) => onChange({ wear: wear as Rope["wear"] })}
      />
      <StateChoice
        none="as the day"
        catalogue={catalogue}
        value={rope.state}
        disabled={disabled}
        onChange={(state) => onChange({ state })}
      />
      <Choice
        label="What it has stood"
        none="nobody said"
        value={rope.stood ?? null}
        options={[
          { id: "nothing", name: "nothing known" },
          { id: "sunlight", name: "long sunlight" },
          { id: "chemicals", name: "chemicals near it" },
        ]}
        disabled={disabled}
        onChange={(stood) => onChange({ stood: stood as Rope["stood"] })}
      />
      <Choice
        label="Its sheath"
        value={rope.glazed ? "glazed" : "sound"}
        options={[
          { id: "sound", name: "sound" },
          { id: "glazed", name: "glazed" },
        ]}
        disabled={disabled}
        onChange={(id) => onChange({ glazed: id === "glazed" })}
      />
      {joins.map((one, index) => (
        <div key={joinRows.key(index)} className={joined}>
          <NumberField
            label="Join at"
            unit="m"
            path={`${path}.joins[${index}].at_m`}
            value={one.at_m}
            disabled={disabled}
            onChange={(at_m) => at_m !== null && onChange({ joins: replaced(joins, index, { at_m }) })}
          />
          <Choice
            label="Its knot"
            value={one.knot}
            options={bends}
            disabled={disabled}
            onChange={(knot) => knot && onChange({ joins: replaced(joins, index, { knot }) })}
          />
          <NumberField
            label="Tails (empty: not known)"
            unit="m"
            optional
            path={`${path}.joins[${index}].tail_m`}
            value={one.tail_m ?? null}
            disabled={disabled}
            onChange={(tail_m) => onChange({ joins: replaced(joins, index, { tail_m }) })}
          />
          <Choice
            label="Onto"
            none="the same kind of rope"
            value={one.onto ?? null}
            options={named(catalogue.ropes)}
            disabled={disabled}
            onChange={(onto) => onChange({ joins: replaced(joins, index, { onto }) })}
          />
          <Remove
            what={`the join at ${one.at_m} m`}
            disabled={disabled}
            onClick={() => {
              joinRows.gone(index);
              onChange({ joins: joins.toSpliced(index, 1) });
            }}
          />
        </div>
      ))}
      {damage.map((one, index) => (
        <div key={damageRows.key(index)} className={row}>
          <NumberField
            label="Damage at"
            unit="m"
            path={`${path}.damage[${index}].at_m`}
            value={one.at_m}
            disabled={disabled}
            onChange={(at_m) => at_m !== null && onChange({ damage: replaced(damage, index, { at_m }) })}
          />
          <Choice
            label="Taken out by"
            none="◆ still in the pull"
            value={one.taken_out ?? null}
            options={loops}
            disabled={disabled}
            onChange={(taken_out) => onChange({ damage: replaced(damage, index, { taken_out }) })}
          />
          <Choice
            label="In its loop"
            value={one.in_loop ?? "nothing"}
            options={[
              { id: "nothing", name: "nothing" },
              { id: "connector", name: "a connector" },
              { id: "overhand", name: "an overhand" },
            ]}
            disabled={disabled}
            onChange={(in_loop) =>
              onChange({
                damage: replaced(damage, index, { in_loop: in_loop as "nothing" | "connector" | "overhand" }),
              })
            }
          />
          <Remove
            what={`the damage at ${one.at_m} m`}
            disabled={disabled}
            onClick={() => {
              damageRows.gone(index);
              onChange({ damage: damage.toSpliced(index, 1) });
            }}
          />
        </div>
      ))}
      <div className="col-span-full flex flex-wrap gap-2">
        <button
          type="button"
          className="button px-3"
          disabled={disabled}
          onClick={() =>
            onChange({
              joins: [...joins, { at_m: Math.round(rope.length_m / 2), knot: "double-fisherman", tail_m: null }],
            })
          }
        >
          Add a join
        </button>
        <button
          type="button"
          className="button px-3"
          disabled={disabled}
          onClick={() =>
            onChange({
              damage: [...damage, { at_m: Math.round(rope.length_m / 3), taken_out: null, in_loop: "nothing" }],
            })
          }
        >
          Add damage
        </button>
      </div>
    </>
  );
}

interface HitchesProps {
  line: Line;
  path: string;
  catalogue: Catalogue;
  disabled: boolean;
  onChange: (change: Partial<Line>) => void;
}

const USUAL: HitchMade = {
  cord: null,
  wraps: null,
  cord_length_m: null,
  glazed: false,
  knot_on_rope: false,
  state: null,
};

/** The hitches of a line, each as it is tied where it is not as usual. */
export function HitchesLook({ line, path, catalogue, disabled, onChange }: HitchesProps) {
  const { haul, lowering, belay } = line;
  const all: { name: string; hitch: string; field: string; made: HitchMade; put: (made: HitchMade) => void }[] = [];
  const add = (
    name: string,
    hitch: string | null | undefined,
    field: string,
    made: HitchMade | null | undefined,
    put: (made: HitchMade) => void,
  ) => {
    if (hitch && catalogue.hitches[hitch]?.form === "hitch")
      all.push({ name: `${name}, ${catalogue.hitches[hitch].name}`, hitch, field, made: made ?? USUAL, put });
  };
  if (lowering)
    add("Brake side", lowering.brake_hitch, "lowering.hitch_made", lowering.hitch_made, (hitch_made) =>
      onChange({ lowering: { ...lowering, hitch_made } }),
    );
  if (haul) {
    add("Haul grab", haul.grab ?? "prusik-8", "haul.grab_made", haul.grab_made, (grab_made) =>
      onChange({ haul: { ...haul, grab_made } }),
    );
    add("Ratchet", haul.capture, "haul.capture_made", haul.capture_made, (capture_made) =>
      onChange({ haul: { ...haul, capture_made } }),
    );
  }
  if (belay?.holds === "hitch")
    add("Belay", belay.what, "belay.made", belay.made, (made) => onChange({ belay: { ...belay, made } }));
  if (!all.length) return null;
  const cords = Object.values(catalogue.slings).filter((one) => one.cord);
  return (
    <Disclosure as="div" className="col-span-full">
      <DisclosureButton className="min-h-11 font-semibold underline">How its hitches are tied</DisclosureButton>
      <DisclosurePanel className="flex flex-col gap-2">
        {all.map((one) => {
          const { made, put } = one;
          const kind = catalogue.hitches[one.hitch];
          return (
            <fieldset key={one.field} className="grid grid-cols-2 items-end gap-2 lg:grid-cols-5">
              <legend className="font-label">
                {one.name}. Look: {kind?.look}
              </legend>
              <Choice
                label="Cord"
                none={`as usual, ${catalogue.slings[kind?.cord ?? ""]?.name ?? ""}`}
                value={made.cord ?? null}
                options={cords}
                disabled={disabled}
                onChange={(cord) => put({ ...made, cord })}
              />
              <NumberField
                label={`Wraps (empty: ${kind?.wraps})`}
                optional
                path={`${path}.${one.field}.wraps`}
                value={made.wraps ?? null}
                disabled={disabled}
                onChange={(wraps) => put({ ...made, wraps })}
              />
              <NumberField
                label="Cord, whole length (empty: not known)"
                unit="m"
                optional
                path={`${path}.${one.field}.cord_length_m`}
                value={made.cord_length_m ?? null}
                disabled={disabled}
                onChange={(cord_length_m) => put({ ...made, cord_length_m })}
              />
              <Choice
                label="State of the cord"
                value={made.glazed ? "glazed" : "sound"}
                options={[
                  { id: "sound", name: "sound" },
                  { id: "glazed", name: "glazed by a slip" },
                ]}
                disabled={disabled}
                onChange={(id) => put({ ...made, glazed: id === "glazed" })}
              />
              <StateChoice
                none="as its rope"
                catalogue={catalogue}
                value={made.state}
                disabled={disabled}
                onChange={(state) => put({ ...made, state })}
              />
              <Choice
                label="Joining knot"
                value={made.knot_on_rope ? "on" : "off"}
                options={[
                  { id: "off", name: "off the rope" },
                  { id: "on", name: "on the rope" },
                ]}
                disabled={disabled}
                onChange={(id) => put({ ...made, knot_on_rope: id === "on" })}
              />
            </fieldset>
          );
        })}
      </DisclosurePanel>
    </Disclosure>
  );
}

/** Connectors that are crowded, hands on the brake strand, turns round a trunk or bar. */
export function DeviceLook({ line, path, catalogue, disabled, onChange }: HitchesProps) {
  const { lowering } = line;
  const room = [
    { id: "room", name: "with room" },
    { id: "crowded", name: "crowded, or loaded near its gate" },
  ];
  const round = lowering && catalogue.devices[lowering.device]?.mu;
  return (
    <>
      <Choice
        label="Connector at the load lies"
        value={line.load_connector_crowded ? "crowded" : "room"}
        options={room}
        disabled={disabled}
        onChange={(id) => onChange({ load_connector_crowded: id === "crowded" })}
      />
      <Choice
        label="and is loaded"
        value={line.load_connector_loaded ?? "along"}
        options={[
          { id: "along", name: "along, shut and locked" },
          { id: "gate-open", name: "with its gate open" },
          { id: "across", name: "across" },
          { id: "nose", name: "on its nose" },
          { id: "edge", name: "over an edge" },
        ]}
        disabled={disabled}
        onChange={(id) => onChange({ load_connector_loaded: id as Line["load_connector_loaded"] })}
      />
      <LoadParts line={line} catalogue={catalogue} disabled={disabled} onChange={onChange} />
      {lowering ? (
        <>
          <Choice
            label="Device's connector lies"
            value={lowering.crowded ? "crowded" : "room"}
            options={room}
            disabled={disabled}
            onChange={(id) => onChange({ lowering: { ...lowering, crowded: id === "crowded" } })}
          />
          <Choice
            label="On the brake strand"
            value={`${lowering.hands ?? 1}`}
            options={[
              { id: "1", name: "one person" },
              { id: "2", name: "two people" },
            ]}
            disabled={disabled}
            onChange={(id) => onChange({ lowering: { ...lowering, hands: id === "2" ? 2 : 1 } })}
          />
          <Led
            label="Brake strand led"
            value={lowering.led ?? catalogue.devices[lowering.device]?.led}
            disabled={disabled}
            onChange={(led) => onChange({ lowering: { ...lowering, led } })}
          />
          {round ? (
            <NumberField
              label="Turns round it"
              path={`${path}.lowering.turns`}
              value={lowering.turns ?? catalogue.devices[lowering.device]?.turns ?? 2}
              disabled={disabled}
              onChange={(turns) => onChange({ lowering: { ...lowering, turns } })}
            />
          ) : null}
        </>
      ) : null}
      {line.belay?.holds === "device" && !catalogue.devices[line.belay.what]?.self_locking ? (
        <Led
          label="Belay's brake strand led"
          value={line.belay.led ?? catalogue.devices[line.belay.what]?.led}
          disabled={disabled}
          onChange={(led) => onChange({ belay: { ...line.belay!, led } })}
        />
      ) : null}
      {line.haul?.capture ? (
        <Choice
          label="Ratchet on"
          value={line.haul.capture_on ?? "line"}
          options={[
            { id: "line", name: "the load's own strand" },
            { id: "haul", name: "the haul strand" },
          ]}
          disabled={disabled}
          onChange={(id) => onChange({ haul: { ...line.haul!, capture_on: id === "haul" ? "haul" : "line" } })}
        />
      ) : null}
      {line.haul?.own ? (
        <>
          <Choice
            label="Haul built from"
            value={line.haul.own.material}
            options={named(catalogue.slings)}
            disabled={disabled}
            onChange={(material) =>
              material && onChange({ haul: { ...line.haul!, own: { ...line.haul!.own!, material } } })
            }
          />
          <NumberField
            label="Its length (a sewn sling laid flat)"
            unit="m"
            path={`${path}.haul.own.length_m`}
            value={line.haul.own.length_m}
            disabled={disabled}
            onChange={(length_m) =>
              length_m !== null && onChange({ haul: { ...line.haul!, own: { ...line.haul!.own!, length_m } } })
            }
          />
        </>
      ) : null}
    </>
  );
}

/** What else is between the rope's connector and the load, in order; each may be taken out, one more put in. */
function LoadParts({ line, catalogue, disabled, onChange }: Omit<HitchesProps, "path">) {
  const parts = line.load_parts ?? [];
  return (
    <>
      {parts.map((id, index) => (
        <Choice
          key={index}
          label={`Then, ${index + 1}`}
          none="take it out"
          value={id}
          options={named(catalogue.connectors)}
          disabled={disabled}
          onChange={(other) => onChange({ load_parts: other ? parts.with(index, other) : parts.toSpliced(index, 1) })}
        />
      ))}
      {parts.length < 6 ? (
        <Choice
          label={parts.length ? "and then" : "Between it and the load"}
          none="nothing else"
          value={null}
          options={named(catalogue.connectors)}
          disabled={disabled}
          onChange={(other) => other && onChange({ load_parts: [...parts, other] })}
        />
      ) : null}
    </>
  );
}

type Way = "parallel" | "back";

/** Which way the strand behind a device is led: a munter brakes beside the load strand, a tube or an eight only led back. */
function Led({
  label,
  value,
  disabled,
  onChange,
}: {
  label: string;
  value: Way | undefined;
  disabled: boolean;
  onChange: (led: Way) => void;
}) {
  return (
    <Choice
      label={label}
      value={value ?? "back"}
      options={[
        { id: "parallel", name: "beside the load strand" },
        { id: "back", name: "back, away from the load" },
      ]}
      disabled={disabled}
      onChange={(id) => onChange(id === "parallel" ? "parallel" : "back")}
    />
  );
}

/** The people there: what they do, what they are tied in to, where they stand. */
import type { OpenPlan } from "../../plan/usePlan";
import { Choice, NumberField, TextField } from "../../ui/fields";
import { part, Remove, replaced } from "../../plan/ledger";
import { useRows } from "../../ui/useRows";

const ROLES = [
  ["leader", "leader"],
  ["edge", "at the edge"],
  ["main", "main line"],
  ["belay", "belay"],
  ["haul", "haul captain"],
  ["ratchet", "minds the ratchet"],
  ["writer", "writes"],
  ["attendant", "attendant"],
  ["other", "something else"],
].map(([id, name]) => ({ id: id!, name: name! }));

export function PeopleLedger({ open }: { open: OpenPlan }) {
  const { team } = open.document;
  const edit = part(open, "team");
  const editTitle = part(open, "title");
  const off = !open.canEdit;
  const people = team.people ?? [];
  const rows = useRows(people.length);
  const person = (index: number, with_: Partial<(typeof people)[number]>) =>
    edit((old) => ({ ...old, people: replaced(old.people ?? [], index, with_) }));
  return (
    <div className="flex flex-col gap-2">
      <div className="grid grid-cols-2 gap-2 lg:grid-cols-4">
        <NumberField
          label="Haulers"
          path="team.haulers"
          value={team.haulers}
          disabled={off}
          onChange={(haulers) => edit((old) => ({ ...old, haulers: haulers! }))}
        />
        <NumberField
          label="Each, sustained (empty: as people do)"
          unit="N"
          optional
          path="team.sustained_n"
          value={team.sustained_n ?? null}
          disabled={off}
          onChange={(sustained_n) => edit((old) => ({ ...old, sustained_n }))}
        />
        <NumberField
          label="Each, in a heave (empty: as people do)"
          unit="N"
          optional
          path="team.heave_n"
          value={team.heave_n ?? null}
          disabled={off}
          onChange={(heave_n) => edit((old) => ({ ...old, heave_n }))}
        />
        <TextField
          label="Title of the plan"
          path="title"
          value={open.document.title}
          disabled={off}
          onChange={(title) => editTitle(() => title)}
        />
      </div>
      {people.map((one, index) => (
        <div
          key={rows.key(index)}
          className="grid max-w-4xl grid-cols-[1fr_9rem_11rem_5.5rem_5.5rem_auto] narrow:grid-cols-2 items-end gap-2"
        >
          <TextField
            label="Name"
            bare={index > 0}
            path={`team.people[${index}].name`}
            value={one.name}
            disabled={off}
            onChange={(name) => person(index, { name })}
          />
          <Choice
            label="Does"
            bare={index > 0}
            value={one.role ?? "other"}
            options={ROLES}
            disabled={off}
            onChange={(role) => person(index, { role: role as NonNullable<typeof one.role> })}
          />
          <Choice
            label="Tied in to"
            bare={index > 0}
            none="not said"
            path={`team.people[${index}].tied_to`}
            value={one.tied_to ?? null}
            options={open.document.anchors.map(({ id, name }) => ({ id, name }))}
            disabled={off}
            onChange={(tied_to) => person(index, { tied_to })}
          />
          {(["x_m", "y_m"] as const).map((axis) => (
            <NumberField
              key={axis}
              label={axis === "x_m" ? "Out" : "Right"}
              unit="m"
              optional
              bare={index > 0}
              path={`team.people[${index}].at.${axis}`}
              value={one.at?.[axis] ?? null}
              disabled={off}
              onChange={(value) => person(index, { at: placed(one.at, axis, value) })}
            />
          ))}
          <Remove
            what={one.name}
            disabled={off}
            onClick={() => {
              rows.gone(index);
              edit((old) => ({ ...old, people: (old.people ?? []).toSpliced(index, 1) }));
            }}
          />
        </div>
      ))}
      <div>
        <button
          type="button"
          className="button"
          disabled={off}
          onClick={() =>
            edit((old) => ({
              ...old,
              people: [...(old.people ?? []), { name: "Somebody", role: "other", tied_to: null }],
            }))
          }
        >
          Add somebody
        </button>
      </div>
    </div>
  );
}

type Place = NonNullable<NonNullable<OpenPlan["document"]["team"]["people"]>[number]["at"]>;

/** A place with one of its two distances changed; nowhere once how far out is not said. */
function placed(at: Place | null | undefined, axis: "x_m" | "y_m", value: number | null): Place | null {
  if (axis === "x_m" && value === null) return null;
  return { x_m: at?.x_m ?? 0, y_m: at?.y_m ?? 0, z_m: at?.z_m ?? 0, [axis]: value ?? 0 };
}

/** What is in the bags besides material to tie with: only what is there is tried and offered; what nobody counted may be. */
import type { Catalogue, Document } from "../../api/types";
import type { OpenPlan } from "../../plan/usePlan";
import { NumberField, type Option } from "../../ui/fields";

type Table = keyof NonNullable<Document["bags"]>;

export function BagsLedger({ open, catalogue }: { open: OpenPlan; catalogue: Catalogue }) {
  const bags = open.document.bags ?? {};
  const off = !open.canEdit;
  const tables: { id: Table; name: string; rows: Option[] }[] = [
    {
      id: "bends",
      name: "Pulleys and carabiners",
      rows: Object.values(catalogue.bends).filter((one) => one.id !== "unknown"),
    },
    { id: "devices", name: "Lowering devices", rows: Object.values(catalogue.devices) },
    { id: "hitches", name: "Hitches and clamps", rows: Object.values(catalogue.hitches) },
    {
      id: "protections",
      name: "Pads and rollers",
      rows: Object.values(catalogue.surfaces).filter((one) => one.role === "protection"),
    },
    { id: "ropes", name: "Ropes", rows: Object.values(catalogue.ropes) },
  ];
  const put = (id: Table, counts: Record<string, number> | null) =>
    open.edit((old) => ({ ...old, bags: { ...old.bags, [id]: counts } }));
  return (
    <div className="mt-3 border-t border-line pt-2">
      <h3 className="font-semibold">Hardware, cords and ropes</h3>
      <p className="font-label text-quiet">
        Counted, only these are tried under “what buys most”. Not counted, everything of its kind may be there.
      </p>
      {tables.map(({ id, name, rows }) => {
        const counts = bags[id];
        return (
          <fieldset key={id} className="mt-1 flex flex-wrap items-end gap-2">
            <legend className="sr-only">{name}</legend>
            <button
              type="button"
              className="button px-3"
              disabled={off}
              aria-pressed={Boolean(counts)}
              onClick={() => put(id, counts ? null : {})}
            >
              {name}: {counts ? "counted" : "not counted"}
            </button>
            {counts
              ? rows.map((one) => (
                  <div key={one.id} className="w-40">
                    <NumberField
                      label={one.name}
                      path={`bags.${id}.${one.id}`}
                      value={counts[one.id] ?? 0}
                      disabled={off}
                      onChange={(count) => count !== null && put(id, { ...counts, [one.id]: count })}
                    />
                  </div>
                ))
              : null}
          </fieldset>
        );
      })}
    </div>
  );
}

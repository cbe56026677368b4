/** What there is besides material to tie with, loose and bag by bag: counted, only what is there is tried and offered; what nobody counted may be. */
import { useState } from "react";
import type { Catalogue, Document } from "../../api/types";
import type { OpenPlan } from "../../plan/usePlan";
import { NumberField, TextField, type Option } from "../../ui/fields";
import { FileButton } from "../../ui/FileButton";
import { OneOf } from "../../ui/OneOf";
import { BagsFile } from "./BagsFile";

type Held = Omit<Document["bags"] & object, "packed">;
type Table = keyof Held;
type Bag = NonNullable<Document["bags"]>["packed"][number];

const MOST = 20;

export function BagsLedger({ open, catalogue }: { open: OpenPlan; catalogue: Catalogue }) {
  const bags = open.document.bags ?? { packed: [] };
  const [chosen, choose] = useState(-1);
  const [from, setFrom] = useState<File | "shelf" | null>(null);
  const off = !open.canEdit;
  const at = chosen < bags.packed.length ? chosen : -1;
  const bag = bags.packed[at];
  const put = (change: Partial<Bag>) =>
    open.edit((old) => {
      const was = old.bags ?? { packed: [] };
      if (at < 0) return { ...old, bags: { ...was, ...change } };
      return { ...old, bags: { ...was, packed: was.packed.map((one, n) => (n === at ? { ...one, ...change } : one)) } };
    });
  const add = () => {
    const taken = new Set(bags.packed.map((one) => one.name));
    const number = Array.from({ length: MOST }, (_, n) => n + 1).find((one) => !taken.has(`Bag ${one}`)) ?? MOST;
    open.edit((old) => {
      const was = old.bags ?? { packed: [] };
      return { ...old, bags: { ...was, packed: [...was.packed, { name: `Bag ${number}` }] } };
    });
    choose(bags.packed.length);
  };
  const drop = () => {
    open.edit((old) => {
      const was = old.bags ?? { packed: [] };
      return { ...old, bags: { ...was, packed: was.packed.filter((_, n) => n !== at) } };
    });
    choose(-1);
  };
  return (
    <div className="mt-3 border-t border-line pt-2">
      <h3 className="font-semibold">Hardware, cords and ropes</h3>
      <p className="font-label text-quiet">
        Counted, only these are tried under “what buys most” and “best”. Not counted, everything of its kind may be
        there.
      </p>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        <OneOf
          label="Which bag"
          value={String(at)}
          options={[
            { id: "-1", name: "Not in a bag" },
            ...bags.packed.map((one, n) => ({ id: String(n), name: one.name || `bag ${n + 1}` })),
          ]}
          onChange={(id) => choose(Number(id))}
        />
        {off ? null : (
          <>
            <FileButton label="Table of what is in the bags" accept=".csv,.tsv,.txt,.xlsx" onFile={setFrom}>
              Read a table
            </FileButton>
            <button type="button" className="button px-3" onClick={() => setFrom("shelf")}>
              From the shelf
            </button>
          </>
        )}
        {from ? (
          <BagsFile
            open={open}
            file={from === "shelf" ? null : from}
            catalogue={catalogue}
            onClose={() => setFrom(null)}
          />
        ) : null}
        {off || bags.packed.length >= MOST ? null : (
          <button type="button" className="button px-3" onClick={add}>
            + Bag
          </button>
        )}
      </div>
      {bag ? (
        <div className="mt-1 flex flex-wrap items-end gap-2">
          <TextField
            label="name on it"
            path={`bags.packed[${at}].name`}
            value={bag.name}
            disabled={off}
            onChange={(name) => put({ name })}
          />
          <TextField
            label="carried by"
            path={`bags.packed[${at}].carried_by`}
            value={bag.carried_by ?? ""}
            disabled={off}
            onChange={(who) => put({ carried_by: who || null })}
          />
          {off ? null : (
            <button type="button" className="button px-3" onClick={drop}>
              This bag is not there
            </button>
          )}
        </div>
      ) : null}
      <Counts
        key={at}
        of={bag ?? bags}
        path={bag ? `bags.packed[${at}]` : "bags"}
        catalogue={catalogue}
        off={off}
        onPut={(table, counts) => put({ [table]: counts })}
      />
    </div>
  );
}

interface CountsProps {
  of: Held;
  path: string;
  catalogue: Catalogue;
  off: boolean;
  onPut: (table: Table, counts: Record<string, number> | null) => void;
}

function Counts({ of, path, catalogue, off, onPut }: CountsProps) {
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
  return tables.map(({ id, name, rows }) => {
    const counts = of[id];
    return (
      <fieldset key={id} className="mt-1 flex flex-wrap items-end gap-2">
        <legend className="sr-only">{name}</legend>
        <button
          type="button"
          className="button px-3"
          disabled={off}
          aria-pressed={Boolean(counts)}
          onClick={() => onPut(id, counts ? null : {})}
        >
          {name}: {counts ? "counted" : "not counted"}
        </button>
        {counts
          ? rows.map((one) => (
              <div key={one.id} className="w-40">
                <NumberField
                  label={one.name}
                  path={`${path}.${id}.${one.id}`}
                  value={counts[one.id] ?? 0}
                  disabled={off}
                  onChange={(count) => count !== null && onPut(id, { ...counts, [one.id]: count })}
                />
              </div>
            ))
          : null}
      </fieldset>
    );
  });
}

/** One piece: entered, looked at, changed, retired with why. */
import { useState } from "react";
import { Link } from "react-router";
import type { Catalogue, Fault, Piece, ShelfPiece } from "../../api/types";
import { FaultContext } from "../../ui/faultContext";
import { Choice, NumberField, TextField } from "../../ui/fields";
import { day } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";
import { Wrong } from "../../ui/Wrong";
import { CountHere } from "./CountHere";

interface Props {
  catalogue: Catalogue;
  shelved: ShelfPiece | null;
  piece: Piece;
  writes: boolean;
  onKeep: (piece: Piece) => Promise<Fault[]>;
  onClose: () => void;
}

const TABLES: { id: Piece["table"]; name: string }[] = [
  { id: "ropes", name: "Rope" },
  { id: "slings", name: "Cord, sling, webbing" },
  { id: "connectors", name: "Connector" },
  { id: "bends", name: "Pulley, carabiner to run round" },
  { id: "devices", name: "Device" },
  { id: "hitches", name: "Clamp" },
  { id: "surfaces", name: "Pad, roller" },
  { id: "other", name: "Something else" },
];

function kindsOf(catalogue: Catalogue, table: Piece["table"]): { id: string; name: string }[] {
  if (table === "other") return [];
  if (table === "surfaces") return Object.values(catalogue.surfaces).filter((one) => one.role === "protection");
  const entries: Record<string, { id: string; name: string }> = catalogue[table];
  return Object.values(entries).filter((one) => one.id !== "unknown");
}

const FIELDS = ["label", "kind", "count", "length_m", "made", "stamp_n", "mass_kg", "bag", "carried_by", "due"];

export function PieceSheet({ catalogue, shelved, piece: first, writes, onKeep, onClose }: Props) {
  const [piece, setPiece] = useState(first);
  const [faults, setFaults] = useState<Fault[]>([]);
  const put = (change: Partial<Piece>) => setPiece((now) => ({ ...now, ...change }));
  const long = piece.table === "ropes" || piece.table === "slings";
  const kept = async () => {
    const found = await onKeep({ ...piece, due: piece.due?.trim() || null });
    setFaults(found);
    if (!found.length) onClose();
  };
  const others = faults.filter((one) => !FIELDS.includes(one.path));
  return (
    <Sheet title={shelved ? `${shelved.piece.label}: ${shelved.name}` : "A piece of the shelf"} wide onClose={onClose}>
      <FaultContext.Provider value={faults}>
        {shelved ? <CountHere shelved={shelved} /> : null}
        {shelved?.out.map((one) => (
          <p key={one.plan} className="mb-2 border-l-4 border-ink bg-film px-3 py-1 text-answer">
            {one.count} out for{" "}
            <Link to={`/plans/${one.plan}/packing`} className="underline">
              {one.title}
            </Link>
          </p>
        ))}
        <div className="grid grid-cols-2 items-start gap-3 narrow:grid-cols-1">
          <TextField
            label="Label, as it stands on it"
            path="label"
            value={piece.label}
            disabled={!writes || shelved !== null}
            onChange={(label) => put({ label })}
          />
          <Choice
            label="What it is"
            value={piece.table}
            options={TABLES}
            disabled={!writes}
            onChange={(table) => put({ table: table as Piece["table"], kind: "", length_m: null })}
          />
          {piece.table === "other" ? (
            <TextField
              label="Its name"
              path="kind"
              value={piece.kind}
              disabled={!writes}
              onChange={(kind) => put({ kind })}
            />
          ) : (
            <Choice
              label="Kind"
              path="kind"
              value={piece.kind || null}
              options={kindsOf(catalogue, piece.table)}
              disabled={!writes}
              onChange={(kind) => put({ kind: kind ?? "" })}
            />
          )}
          {long ? (
            <NumberField
              label="Length"
              path="length_m"
              unit="m"
              value={piece.length_m ?? null}
              disabled={!writes}
              onChange={(length_m) => put({ length_m })}
            />
          ) : null}
          <NumberField
            label="How many alike under this label"
            path="count"
            value={piece.count}
            disabled={!writes}
            onChange={(count) => put({ count: count ?? 1 })}
          />
          <NumberField
            label="Made in (year)"
            path="made"
            optional
            value={piece.made ?? null}
            disabled={!writes}
            onChange={(made) => put({ made })}
          />
          <NumberField
            label="Rating on its stamp"
            path="stamp_n"
            unit="N"
            optional
            value={piece.stamp_n ?? null}
            disabled={!writes}
            onChange={(stamp_n) => put({ stamp_n })}
          />
          <NumberField
            label="Mass, kg"
            path="mass_kg"
            optional
            value={piece.mass_kg ?? null}
            disabled={!writes}
            onChange={(mass_kg) => put({ mass_kg })}
          />
          <TextField
            label="In which bag"
            path="bag"
            value={piece.bag}
            disabled={!writes}
            onChange={(bag) => put({ bag })}
          />
          <TextField
            label="Carried by"
            path="carried_by"
            value={piece.carried_by}
            disabled={!writes}
            onChange={(carried_by) => put({ carried_by })}
          />
          <TextField
            label="Inspection due (2027-03-31)"
            path="due"
            value={piece.due ?? ""}
            disabled={!writes}
            onChange={(due) => put({ due })}
          />
          <TextField label="Note" value={piece.note} disabled={!writes} onChange={(note) => put({ note })} />
          <div className="col-span-full">
            <TextField
              label="Retired because (empty: in use)"
              value={piece.retired}
              disabled={!writes}
              onChange={(retired) => put({ retired })}
            />
          </div>
        </div>
        {others.map((one) => (
          <Wrong key={one.path + one.problem} className="mt-2">
            {one.problem}: {one.right}
          </Wrong>
        ))}
        <div className="mt-4 flex flex-wrap items-center gap-3">
          {writes ? (
            <button type="button" className="button button-main" onClick={() => void kept()}>
              Keep it
            </button>
          ) : null}
          {shelved ? (
            <p className="font-label text-quiet">
              As {shelved.changed_by} left it, {day(shelved.changed_at)}.
            </p>
          ) : null}
        </div>
      </FaultContext.Provider>
    </Sheet>
  );
}

/** The shelf: what the team has, by bag, with what is due, out or retired; entered by hand, by table, found by its label. */
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { Catalogue, Fault, Piece, Schemas, Session, ShelfPiece } from "../../api/types";
import { FaultList } from "../../ui/FaultList";
import { faultsOf } from "../../ui/faults";
import { TextField } from "../../ui/fields";
import { FileButton } from "../../ui/FileButton";
import { Sheet } from "../../ui/Sheet";
import { PieceSheet } from "./PieceSheet";
import { TeamHead } from "./TeamHead";
import { useShelf } from "./useShelf";

type FileOut = Schemas["ShelfFileOut"];
const NEW: Piece = {
  label: "",
  table: "ropes",
  kind: "",
  count: 1,
  length_m: null,
  made: null,
  stamp_n: null,
  mass_kg: null,
  bag: "",
  carried_by: "",
  due: null,
  retired: "",
  note: "",
};

export function ShelfPage({ session, catalogue }: { session: Session; catalogue: Catalogue }) {
  const { team, label } = useParams();
  const go = useNavigate();
  const here = session.teams.find((one) => String(one.id) === team) ?? session.teams[0];
  return (
    <TeamHead
      title="Shelf"
      session={session}
      team={here}
      to="/shelf"
      other={{ name: "Own pulls", to: `/pulls/${here?.id ?? ""}` }}
    >
      {here ? (
        <Shelf
          key={here.id}
          team={here.id}
          catalogue={catalogue}
          label={label}
          onLabel={(one) => void go(one ? `/shelf/${here.id}/${one}` : `/shelf/${here.id}`)}
        />
      ) : null}
    </TeamHead>
  );
}

interface Props {
  team: number;
  catalogue: Catalogue;
  label: string | undefined;
  onLabel: (label: string | null) => void;
}

function Shelf({ team, catalogue, label, onLabel }: Props) {
  const { shelf, keep, read } = useShelf(team);
  const [sought, seek] = useState("");
  const [adding, add] = useState(false);
  const [file, setFile] = useState<{ file: File; found: FileOut } | null>(null);
  const [faults, setFaults] = useState<Fault[]>([]);
  if (!shelf) return <p className="mt-4 text-answer">Opening.</p>;
  const opened = shelf.pieces.find((one) => one.piece.label === label);
  const found = shelf.pieces.filter((one) => matches(one, sought));
  const bags = [...new Set(found.map((one) => one.piece.bag))].sort();
  const due = shelf.pieces.filter((one) => one.is_due && !one.piece.retired).length;
  const out = shelf.pieces.filter((one) => one.out.length).length;
  const chosen = async (one: File, bring: boolean) => {
    try {
      const told = await read(one, bring);
      setFile(told.brought ? null : { file: one, found: told });
      setFaults([]);
    } catch (error) {
      setFaults(faultsOf(error, "try again; the file is untouched"));
      setFile(null);
    }
  };
  return (
    <>
      <p className="mt-3 text-answer" data-testid="shelf-said">
        {shelf.pieces.length} labels{due ? "; " : ""}
        {due ? <b className="text-over">◇ {due} due</b> : null}
        {out ? `; ${out} out` : ""}.
      </p>
      <div className="mt-2 flex flex-wrap items-end gap-2">
        <div className="min-w-40 flex-1">
          <TextField label="Find a label, a kind, a bag" value={sought} onChange={seek} />
        </div>
        {shelf.writes ? (
          <>
            <button type="button" className="button button-main" onClick={() => add(true)}>
              Add a piece
            </button>
            <FileButton label="Table of gear" accept=".csv,text/csv" onFile={(one) => void chosen(one, false)}>
              Read a table
            </FileButton>
          </>
        ) : null}
        <a className="button flex items-center" href={`/api/teams/${team}/shelf.csv?mark=true`}>
          Write a table
        </a>
        {found.length ? (
          <a className="button flex items-center" href={`/api/teams/${team}/shelf/labels?${labelsOf(found)}`}>
            Labels to print
          </a>
        ) : null}
      </div>
      <FaultList label="What is wrong with the file" faults={faults} />
      {label && !opened ? (
        <p role="alert" className="mt-3 border-l-4 border-over bg-tint px-3 py-1.5 text-answer font-semibold">
          ◆ There is no {label} on this shelf.
        </p>
      ) : null}
      {bags.map((bag) => (
        <section key={bag} aria-label={bag || "In no bag"} className="mt-4">
          <h2 className="border-b-2 border-ink pb-1 font-semibold">{bag || "In no bag"}</h2>
          <ul>
            {found
              .filter((one) => one.piece.bag === bag)
              .map((one) => (
                <Row key={one.piece.label} one={one} onOpen={() => onLabel(one.piece.label)} />
              ))}
          </ul>
        </section>
      ))}
      {!shelf.pieces.length ? (
        <p className="mt-4 max-w-[60ch] text-answer">
          Nothing yet. A table with the columns <b>label</b> and <b>kind</b> is enough; count, length_m, made, stamp_kn,
          mass_kg, bag, carried_by, due, retired, note besides.
        </p>
      ) : null}
      {adding || opened ? (
        <PieceSheet
          key={opened?.piece.label ?? "new"}
          catalogue={catalogue}
          shelved={opened ?? null}
          piece={opened?.piece ?? NEW}
          writes={shelf.writes}
          onKeep={keep}
          onClose={() => {
            add(false);
            onLabel(null);
          }}
        />
      ) : null}
      {file ? (
        <Sheet title={file.file.name} wide onClose={() => setFile(null)}>
          <p className="text-answer">
            {file.found.faults.length
              ? "Nothing is brought while a row is wrong. Mend it in the file, and read it again."
              : `${file.found.new} new, ${file.found.changed} changed. What the table does not name stays.`}
          </p>
          <FaultList label="What is wrong by row" faults={file.found.faults} />
          {file.found.faults.length ? null : (
            <button type="button" className="button button-main mt-3" onClick={() => void chosen(file.file, true)}>
              Bring them
            </button>
          )}
        </Sheet>
      ) : null}
    </>
  );
}

/** As many as one paper takes. */
const labelsOf = (found: ShelfPiece[]) =>
  found
    .slice(0, 300)
    .map((one) => `label=${encodeURIComponent(one.piece.label)}`)
    .join("&");

function matches(one: ShelfPiece, sought: string): boolean {
  const { label, kind, bag, carried_by } = one.piece;
  return [label, kind, one.name, bag, carried_by].join(" ").toLowerCase().includes(sought.trim().toLowerCase());
}

function Row({ one, onOpen }: { one: ShelfPiece; onOpen: () => void }) {
  const { piece } = one;
  const said = [
    piece.length_m ? `${piece.length_m} m` : "",
    piece.count > 1 ? `${piece.count} of them` : "",
    piece.made ? String(piece.made) : "",
    piece.carried_by,
  ].filter(Boolean);
  return (
    <li className="border-b border-line" data-piece={piece.label}>
      <button
        type="button"
        className="flex min-h-11 w-full flex-wrap items-baseline gap-x-3 py-1.5 text-left hover:bg-film"
        onClick={onOpen}
      >
        <b className="min-w-16 tabular-nums">{piece.label}</b>
        <span className={`min-w-0 flex-1 ${piece.retired ? "line-through" : ""}`}>{one.name}</span>
        <span className="text-quiet">{said.join(" · ")}</span>
        {piece.retired ? <span className="w-full text-over">◆ retired: {piece.retired}</span> : null}
        {one.is_due && !piece.retired ? (
          <span className="w-full text-over">
            ◇ {one.too_old ? `made in ${piece.made}: older than textiles are used` : `to inspect since ${piece.due}`}
          </span>
        ) : null}
        {one.out.map((place) => (
          <span key={place.plan} className="w-full text-quiet">
            {place.count} out for {place.title}
          </span>
        ))}
      </button>
    </li>
  );
}

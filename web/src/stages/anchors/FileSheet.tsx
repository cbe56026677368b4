/** A file of places before anything of it is taken: how it was understood, what it does not say, what is wrong with it by row and mended there. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Feature, FileRead, FileSettings, GroundOffer, Schemas } from "../../api/types";
import { answered, api } from "../../device/client";
import { asForm } from "../../device/upload";
import type { OpenPlan } from "../../plan/usePlan";
import { Asks } from "../../ui/Asks";
import { FaultList } from "../../ui/FaultList";
import { wrongOf } from "../../ui/faults";
import { Choice } from "../../ui/fields";
import { Sheet } from "../../ui/Sheet";
import { Wrong } from "../../ui/Wrong";

interface Props {
  open: OpenPlan;
  from: File | string;
  onFeatures: (found: Feature[], from: string) => void;
  onGround: (ground: GroundOffer) => void;
  onClose: () => void;
}

const MEANS: [string, string][] = [
  ["", "Left out"],
  ["name", "Name"],
  ["kind", "Kind of feature"],
  ["x", "Out along the fall line"],
  ["y", "To the right, looking out"],
  ["z", "Up from the working point"],
  ["bearing", "Bearing"],
  ["level", "Distance, level"],
  ["slope", "Distance along the slope"],
  ["inclination", "Inclination"],
  ["height", "Height above the working point"],
  ["latitude", "Latitude"],
  ["longitude", "Longitude"],
  ["elevation", "Elevation above the sea"],
  ["basis", "How it was judged"],
];

export function FileSheet({ open, from, onFeatures, onGround, onClose }: Props) {
  const [said, setSaid] = useState<FileSettings>({});
  const { document } = open;
  const team = open.plan.team.id;
  const name = typeof from === "string" ? "what was pasted" : from.name;
  const read = useQuery({
    queryKey: ["file", name, said, document.site.frame, document.features.length],
    queryFn: async () => {
      if (typeof from === "string") {
        const body = { team, text: from, document, settings: said as Schemas["FileSettings"] };
        return answered(await api.POST("/api/survey/paste", { body })) as FileRead;
      }
      const body = {
        team,
        document: JSON.stringify(document),
        settings: JSON.stringify(said),
        file: from as unknown as string,
      };
      return answered(await api.POST("/api/survey/read", { body, bodySerializer: asForm })) as FileRead;
    },
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
    staleTime: Infinity,
  });
  const say = (setting: string, value: string) =>
    setSaid((old) => {
      const [table, ...column] = setting.split(".");
      if (table === "columns" && !column.length)
        return { ...old, columns: { ...old.columns, ...chosen(read.data, value) } };
      if (table === "columns" || table === "units")
        return { ...old, [table]: { ...old[table], [column.join(".")]: value } };
      return { ...old, [setting]: value };
    });
  const mend = (row: number, column: string, text: string) =>
    setSaid((old) => ({
      ...old,
      mends: [...(old.mends ?? []).filter((one) => one.row !== row || one.column !== column), { row, column, text }],
    }));
  const found = read.data;
  return (
    <Sheet title={`Read in ${name}`} onClose={onClose} wide="table">
      {read.error ? <Wrong>{wrongOf(read.error)} Nothing was taken, nothing is lost.</Wrong> : null}
      {!found && !read.error ? <p className="text-answer">Reading it.</p> : null}
      {found && !read.error ? (
        <>
          <ul aria-label="How it was understood">
            {found.understood.map((one) => (
              <li key={one} className="leading-snug">
                {one}
              </li>
            ))}
          </ul>
          <Asks asks={found.asks} onSaid={say} />
          <FaultList label="Faults of the file" faults={found.faults} />
          {found.columns.length ? (
            <Rows
              found={found}
              mends={said.mends ?? []}
              onMeans={(column, means) => say(`columns.${column}`, means)}
              onMend={mend}
            />
          ) : null}
          {found.grounds.map((one, at) => (
            <Ground key={`${one.name}${at}`} ground={one} disabled={!open.canEdit} onTake={() => onGround(one)} />
          ))}
          {found.features.length ? (
            <div className="mt-3 border-t border-line pt-3">
              <p className="text-answer">
                {found.features
                  .slice(0, 8)
                  .map((one) => one.name)
                  .join(", ")}
                {found.features.length > 8 ? ` and ${found.features.length - 8} more` : ""}
                {found.features[0]?.placed
                  ? `; their places to within ${found.features[0].placed.off_m} m, ${found.features[0].placed.off_up_m} m up`
                  : ""}
                .
              </p>
              <button
                type="button"
                className="button mt-2 font-semibold"
                disabled={!open.canEdit}
                onClick={() => onFeatures(found.features, name)}
              >
                Take {found.features.length} {found.features.length === 1 ? "feature" : "features"}
              </button>
            </div>
          ) : null}
        </>
      ) : null}
    </Sheet>
  );
}

/** Of several columns that say the same, the one that counts; the others are left out. */
function chosen(found: FileRead | undefined, name: string): Record<string, string> {
  const means = found?.columns.find((one) => one.name === name)?.means ?? "";
  const same = found?.columns.filter((one) => one.means === means && means) ?? [];
  return Object.fromEntries(same.map((one) => [one.name, one.name === name ? means : ""]));
}

interface RowProps {
  found: FileRead;
  mends: { row: number; column: string; text: string }[];
  onMeans: (column: string, means: string) => void;
  onMend: (row: number, column: string, text: string) => void;
}

/** The first rows and all that are at fault, under what each column means; a cell at fault is mended where it stands. */
function Rows({ found, mends, onMeans, onMend }: RowProps) {
  const options = MEANS.map(([id, label]) => ({ id, name: label }));
  const mended = (row: number, column: string) => mends.some((one) => one.row === row && one.column === column);
  const wrong = new Set(found.faults.map((one) => one.path));
  return (
    <div className="mt-3 overflow-x-auto" role="region" aria-label="Rows of the file">
      <table className="w-full border-collapse">
        <thead>
          <tr className="text-left align-bottom">
            <th className="pr-3 font-label font-normal text-quiet">row</th>
            {found.columns.map((one) => (
              <th key={one.name} className="min-w-40 pr-3 font-normal">
                <span className="font-semibold">{one.name}</span>
                <Choice
                  label={`What ${one.name} says`}
                  bare
                  value={one.means}
                  options={
                    options.some((each) => each.id === one.means)
                      ? options
                      : [...options, { id: one.means, name: one.means }]
                  }
                  onChange={(means) => onMeans(one.name, means ?? "")}
                />
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {found.rows.map((row) => (
            <tr key={row.row} className={`border-t border-line ${row.faulty ? "bg-tint" : ""}`}>
              <td className="pr-3 font-label text-quiet">
                {row.faulty ? "◆ " : ""}
                {row.row}
              </td>
              {found.columns.map((column, at) => (
                <td key={column.name} className="pr-3">
                  {wrong.has(`row ${row.row}, ${column.name}`) || mended(row.row, column.name) ? (
                    <Cell
                      label={`Row ${row.row}, ${column.name}`}
                      text={row.cells[at] ?? ""}
                      onMend={(text) => onMend(row.row, column.name, text)}
                    />
                  ) : (
                    row.cells[at]
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Cell({ label, text, onMend }: { label: string; text: string; onMend: (text: string) => void }) {
  const [typed, setTyped] = useState(text);
  return (
    <input
      className="field w-full min-w-24"
      aria-label={label}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => (typed === text ? undefined : onMend(typed))}
      onKeyDown={(event) => (event.key === "Enter" && typed !== text ? onMend(typed) : undefined)}
    />
  );
}

/** A way that somebody walked: what it would be as the ground from the side. */
function Ground({ ground, disabled, onTake }: { ground: GroundOffer; disabled: boolean; onTake: () => void }) {
  const what = `1 track with ${ground.count} points, ${ground.length_m.toFixed(0)} m: ${ground.name}`;
  return (
    <div className="mt-3 border-t border-line pt-2">
      <p className="text-answer">{what}</p>
      {ground.why_not ? (
        <p>◇ It can not be the ground from the side: {ground.why_not}.</p>
      ) : (
        <>
          <p>
            As the ground from the side it has {ground.profile.length} points; none of those left out lies further than{" "}
            {ground.thin_m} m from it. It leaves the fall line by up to {ground.side_m.toFixed(0)} m to the side
            {ground.back_m >= 0.5
              ? `, and goes back on itself by up to ${ground.back_m.toFixed(1)} m, which is left out`
              : ""}
            .
          </p>
          <Profile points={ground.profile ?? []} />
          <button type="button" className="button mt-1 font-semibold" disabled={disabled} onClick={onTake}>
            Take it as the ground
          </button>
        </>
      )}
    </div>
  );
}

/** The ground as it would be, to scale, with how far out and how deep it goes. */
function Profile({ points }: { points: { x_m: number; z_m: number }[] }) {
  const xs = points.map((one) => one.x_m);
  const zs = points.map((one) => -one.z_m);
  const [left, top] = [Math.min(...xs), Math.min(...zs)];
  const [wide, high] = [Math.max(...xs) - left, Math.max(...zs) - top];
  const edge = Math.max(wide, high) * 0.03;
  return (
    <figure className="my-2">
      <svg
        viewBox={`${left - edge} ${top - edge} ${wide + 2 * edge} ${high + 2 * edge}`}
        className="max-h-64 w-full max-w-3xl"
        role="img"
        aria-label={`From ${left.toFixed(0)} m to ${(left + wide).toFixed(0)} m out, ${high.toFixed(0)} m from the highest to the lowest`}
      >
        <polyline
          points={points.map((one) => `${one.x_m},${-one.z_m}`).join(" ")}
          fill="none"
          stroke="currentColor"
          strokeWidth="2"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <figcaption className="font-label text-quiet">
        {left.toFixed(0)} to {(left + wide).toFixed(0)} m out, {high.toFixed(0)} m from top to bottom
      </figcaption>
    </figure>
  );
}

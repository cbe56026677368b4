/** Load cells of this run: hung up and named, a simulated one for practice, readings of another cell read in and taken away. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import type { Cells, LoadCell } from "../../api/types";
import { LogSheet } from "../../plan/LogSheet";
import { wrongOf } from "../../ui/faults";
import { Choice } from "../../ui/fields";
import { Sheet } from "../../ui/Sheet";
import { Wrong } from "../../ui/Wrong";

type Happens = "jam" | "snag" | "shock" | "creep" | "joins" | "over" | "silence" | "off";
const EVENTS: [Happens, string][] = [
  ["jam", "load jams"],
  ["snag", "snag at the edge"],
  ["joins", "somebody joins the litter"],
  ["shock", "shock"],
  ["silence", "falls silent"],
  ["over", "put right"],
];

interface Props {
  plan: string;
  cells: Cells;
  onLesson: () => void;
  onClose: () => void;
}

export function CellSheet({ plan, cells, onLesson, onClose }: Props) {
  const queries = useQueryClient();
  const path = { params: { path: { plan_id: plan } } };
  const [place, setPlace] = useState("load");
  const file = useRef<HTMLInputElement>(null);
  const [table, setTable] = useState<File | null>(null);
  const known = new Set(cells.cells.map((one) => one.name));
  const made = (base: "Simulated cell" | "Cell") => {
    let name: string = base;
    for (let number = 2; known.has(name); number++) name = `${base} ${number}`;
    return { id: newId(), name, place, unit: "kN", simulated: base === "Simulated cell" };
  };
  const done = () => queries.invalidateQueries({ queryKey: ["cells", plan] });
  // How many readings there are is asked when somebody looks.
  useEffect(() => void queries.invalidateQueries({ queryKey: ["cells", plan] }), [queries, plan]);
  const hang = useMutation({
    mutationFn: async (base: "Simulated cell" | "Cell") =>
      answered(await api.POST("/api/plans/{plan_id}/cells", { ...path, body: made(base) })),
    onSuccess: done,
  });
  const key = useMutation({
    mutationFn: async (cell: LoadCell) => {
      const where = { params: { path: { plan_id: plan, cell_id: cell.id } } };
      const { token } = answered(await api.POST("/api/plans/{plan_id}/cells/{cell_id}/key", where));
      return { cell: cell.id, token };
    },
  });
  const event = useMutation({
    mutationFn: async ({ cell, happens }: { cell: LoadCell; happens: Happens }) =>
      answered(
        await api.POST("/api/plans/{plan_id}/cells/{cell_id}/event", {
          params: { path: { plan_id: plan, cell_id: cell.id } },
          body: { event: happens },
        }),
      ),
    onSuccess: done,
  });
  const fault = hang.error ?? event.error ?? key.error;
  if (table) return <LogSheet plan={plan} cells={cells} file={table} onClose={() => setTable(null)} />;
  return (
    <Sheet title="Load cells" onClose={onClose} wide>
      <div className="flex flex-wrap items-end gap-3">
        <div className="min-w-64 flex-1">
          <Choice
            label="Where it hangs"
            value={place}
            options={Object.entries(cells.places).map(([id, name]) => ({ id, name }))}
            onChange={(id) => setPlace(id ?? "load")}
          />
        </div>
        <button
          type="button"
          className="button"
          disabled={hang.isPending}
          onClick={() => hang.mutate("Simulated cell")}
        >
          Start a simulated cell
        </button>
        <button type="button" className="button" disabled={hang.isPending} onClick={() => hang.mutate("Cell")}>
          Hang up a cell of your own
        </button>
        <button type="button" className="button" onClick={() => file.current?.click()}>
          Read in a table
        </button>
        <input
          ref={file}
          type="file"
          accept=".csv,.tsv,.txt,text/csv"
          className="sr-only"
          aria-label="Table of readings"
          tabIndex={-1}
          onChange={(change) => {
            const chosen = change.target.files?.[0];
            change.target.value = "";
            if (chosen) setTable(chosen);
          }}
        />
      </div>
      <p className="mt-2 text-body leading-snug text-quiet">
        A simulated cell is for practice: its readings are made from the plan, nothing in them is measured. A cell of
        your own sends through a bridge of your own, by a key that writes its readings and nothing else.
      </p>
      {fault ? <Wrong className="mt-2">{wrongOf(fault)}</Wrong> : null}
      <ul className="mt-3">
        {cells.cells.map((one) => (
          <li key={one.id} className="border-t border-line py-2">
            <p className="text-answer">
              <b>{one.name}</b>, {one.place_text}, {one.readings} {one.readings === 1 ? "reading" : "readings"}
            </p>
            {one.simulated ? (
              <div className="mt-1 flex flex-wrap gap-2">
                {EVENTS.map(([happens, name]) => (
                  <button
                    key={happens}
                    type="button"
                    className="button"
                    onClick={() => event.mutate({ cell: one, happens })}
                  >
                    {name}
                  </button>
                ))}
                <button type="button" className="button" onClick={() => event.mutate({ cell: one, happens: "off" })}>
                  Take it off
                </button>
              </div>
            ) : one.from_file ? (
              <p className="text-quiet">Read in from {one.from_file}; nothing of it is live.</p>
            ) : (
              <button type="button" className="button mt-1" disabled={key.isPending} onClick={() => key.mutate(one)}>
                Make a key for its bridge
              </button>
            )}
            {key.data?.cell === one.id ? (
              <div role="status" className="mt-2 border-2 border-ink px-4 py-2" data-testid="cell-key">
                <p>Shown this once. A key made before it no longer writes. Sent with each batch of readings:</p>
                <p className="font-semibold break-all">Authorization: Bearer {key.data.token}</p>
                <p className="break-all">
                  to {window.location.origin}/api/readings, with &quot;cell&quot;: &quot;{one.id}&quot;
                </p>
              </div>
            ) : null}
          </li>
        ))}
      </ul>
      {cells.cells.length ? (
        <div className="mt-2 flex flex-wrap gap-2">
          <button type="button" className="button" onClick={onLesson}>
            What the readings say of friction and weight
          </button>
          <a className="button inline-flex items-center" href={`/api/plans/${plan}/readings.csv`} download>
            Take all readings away as CSV
          </a>
        </div>
      ) : null}
    </Sheet>
  );
}

/** A logger's table read in after the run: looked at first, its questions answered, its faults by row; taken whole, or nothing of it. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Cells, Entry } from "../api/types";
import { answered, api } from "../device/client";
import { newId } from "../device/newId";
import { asForm } from "../device/upload";
import { Asks } from "../ui/Asks";
import { FaultList } from "../ui/FaultList";
import { wrongOf } from "../ui/faults";
import { Choice } from "../ui/fields";
import { Sheet } from "../ui/Sheet";
import { Wrong } from "../ui/Wrong";

type Said = Record<string, string | number | boolean | number[]>;

interface Props {
  plan: string;
  cells: Cells;
  file: File;
  begun?: Entry["time"];
  onClose: () => void;
}

const NUMBERS = new Set(["hertz"]);
const TRUTHS = new Set(["day_first", "spread"]);

export function LogSheet({ plan, cells, file, begun, onClose }: Props) {
  const queries = useQueryClient();
  const [place, setPlace] = useState("load");
  const [said, setSaid] = useState<Said>({});
  const [run, setRun] = useState<string | null>(null);
  const given = () => ({ settings: JSON.stringify(said), run, file: file as unknown as string });
  const path = { plan_id: plan };
  const look = useQuery({
    queryKey: ["table", plan, file.name, file.size, said, run],
    queryFn: async () =>
      answered(
        await api.POST("/api/plans/{plan_id}/table", { params: { path }, body: given(), bodySerializer: asForm }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
    staleTime: Infinity,
  });
  const take = useMutation({
    mutationFn: async () => {
      const known = new Set(cells.cells.map((one) => one.name));
      let name = file.name.slice(0, 50);
      for (let number = 2; known.has(name); number++) name = `${file.name.slice(0, 50)} ${number}`;
      const cell = { id: newId(), name, place, unit: "kN", simulated: false };
      answered(await api.POST("/api/plans/{plan_id}/cells", { params: { path }, body: cell }));
      const params = { path: { plan_id: plan, cell_id: cell.id } };
      return answered(
        await api.POST("/api/plans/{plan_id}/cells/{cell_id}/table", {
          params,
          body: given(),
          bodySerializer: asForm,
        }),
      );
    },
    onSettled: () =>
      Promise.all(
        [
          ["cells", plan],
          ["debrief", plan],
        ].map((queryKey) => queries.invalidateQueries({ queryKey })),
      ),
  });
  const say = (setting: string, value: string) => {
    if (setting === "run") return setRun(value);
    const typed = NUMBERS.has(setting) ? Number(value) : TRUTHS.has(setting) ? value === "true" : value;
    setSaid((old) => ({ ...old, [setting]: typed }));
  };
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const more = {
    zone: [...(here === "UTC" ? [] : [{ value: here, label: `here, ${here}` }]), { value: "UTC", label: "UTC" }],
    begins: begun ? [{ value: begun.slice(0, 19).replace("T", " ") + "+00:00", label: "when the run began" }] : [],
  };
  const found = take.data ?? look.data;
  const wrong = take.error ?? look.error;
  if (take.data?.kept != null)
    return (
      <Sheet title={`Read in ${file.name}`} onClose={onClose} wide>
        <p role="status" className="text-answer">
          {take.data.count} readings are kept
          {take.data.peak_n == null ? "" : `, the highest ${(take.data.peak_n / 1000).toFixed(2)} kN`}. They alarm
          nobody: they are of then.
        </p>
      </Sheet>
    );
  return (
    <Sheet title={`Read in ${file.name}`} onClose={onClose} wide="table">
      <div className="max-w-md">
        <Choice
          label="Where its cell hung"
          value={place}
          options={Object.entries(cells.places).map(([id, name]) => ({ id, name }))}
          onChange={(id) => setPlace(id ?? "load")}
        />
      </div>
      {wrong ? <Wrong className="mt-2">{wrongOf(wrong)} Nothing of it was taken.</Wrong> : null}
      {!found && !wrong ? <p className="mt-2 text-answer">Reading it.</p> : null}
      {found ? (
        <>
          <ul aria-label="How it was understood" className="mt-2">
            {found.understood.map((one) => (
              <li key={one} className="leading-snug">
                {one}
              </li>
            ))}
          </ul>
          <Asks asks={found.asks} onSaid={say} more={more} />
          <FaultList
            label="Faults of the table"
            faults={found.faults}
            mend={({ path }, at) =>
              /^row \d+$/.test(path) && found.faults.findIndex((each) => each.path === path) === at ? (
                <button
                  type="button"
                  className="button px-3"
                  onClick={() =>
                    setSaid((old) => ({
                      ...old,
                      left_out: [...((old.left_out as number[] | undefined) ?? []), Number(path.slice(4))],
                    }))
                  }
                >
                  Leave {path} out
                </button>
              ) : null
            }
          />
          <div className="mt-3" role="region" aria-label="Rows of the table">
            <table className="border-collapse">
              <thead>
                <tr className="text-left">
                  <th className="pr-4 font-label font-normal text-quiet">row</th>
                  {found.columns.map((one) => (
                    <th key={one} className="pr-4">
                      {one}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {found.rows.slice(0, 30).map((row, at) => (
                  <tr key={`${row.row}:${at}`} className={`border-t border-line ${row.faulty ? "bg-tint" : ""}`}>
                    <td className="pr-4 font-label text-quiet">
                      {row.faulty ? "◆ " : ""}
                      {row.row}
                    </td>
                    {row.cells.map((one, n) => (
                      <td key={n} className="pr-4">
                        {one}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {found.count ? (
            <button
              type="button"
              className="button mt-3 font-semibold"
              disabled={take.isPending || look.isFetching}
              onClick={() => take.mutate()}
            >
              Take {found.count} readings
            </button>
          ) : null}
        </>
      ) : null}
    </Sheet>
  );
}

/** A table of what is in the bags, or the team's shelf, before anything of it is taken: what each name in it is, how many, in which bag. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Catalogue, Document } from "../../api/types";
import { answered, api } from "../../device/client";
import { asForm } from "../../device/upload";
import type { OpenPlan } from "../../plan/usePlan";
import { Asks } from "../../ui/Asks";
import { FaultList } from "../../ui/FaultList";
import { wrongOf } from "../../ui/faults";
import { Sheet } from "../../ui/Sheet";
import { Wrong } from "../../ui/Wrong";

interface Said {
  file: Record<string, string | Record<string, string>>;
  named: Record<string, string>;
}

const shelf = async (plan: string) =>
  answered(await api.GET("/api/plans/{plan_id}/bags", { params: { path: { plan_id: plan } } }));

export function BagsFile({
  open,
  file,
  catalogue,
  onClose,
}: {
  open: OpenPlan;
  /** Null: what lies on the team's shelf. */
  file: File | null;
  catalogue: Catalogue;
  onClose: () => void;
}) {
  const [said, setSaid] = useState<Said>({ file: {}, named: {} });
  const read = useQuery({
    queryKey: ["bags", file?.name, file?.size, said],
    queryFn: async () => {
      if (!file) return { ...(await shelf(open.plan.id)), asks: [], faults: [] };
      const body = { team: open.plan.team.id, settings: JSON.stringify(said), file: file as unknown as string };
      return answered(await api.POST("/api/survey/bags", { body, bodySerializer: asForm }));
    },
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
    staleTime: Infinity,
  });
  const say = (setting: string, value: string) =>
    setSaid((old) => {
      if (setting.startsWith("named.")) return { ...old, named: { ...old.named, [setting.slice(6)]: value } };
      if (setting === "what") return { ...old, file: { ...old.file, columns: { [value]: "what" } } };
      return { ...old, file: { ...old.file, [setting]: value } };
    });
  const found = read.data;
  const take = () => {
    if (!found) return;
    open.edit((old) => ({
      ...old,
      bags: found.bags,
      kit: found.kit.length ? found.kit : (old.kit ?? []),
    }));
    onClose();
  };
  const rows = found ? counted(found.bags, catalogue) : [];
  return (
    <Sheet title={file ? `Read in ${file.name}` : "From the shelf"} onClose={onClose} wide>
      {read.error ? <Wrong>{wrongOf(read.error)} Nothing was taken, nothing is lost.</Wrong> : null}
      {found && !read.error ? (
        <>
          {found.understood.map((one) => (
            <p key={one} className="text-answer">
              {one}
            </p>
          ))}
          <Asks asks={found.asks} onSaid={say} />
          <FaultList label="Faults of the table" faults={found.faults} />
          {found.understood.length ? (
            <>
              <ul aria-label="What it puts in the bags" className="mt-2">
                {rows.map((one) => (
                  <li key={one}>{one}</li>
                ))}
                {found.kit.map((one, at) => (
                  <li key={at}>
                    {one.count} × {catalogue.slings[one.material]?.name ?? one.material}, {one.length_m} m
                  </li>
                ))}
              </ul>
              <button type="button" className="button mt-3 font-semibold" disabled={!open.canEdit} onClick={take}>
                Take it in place of what is counted now
              </button>
            </>
          ) : null}
        </>
      ) : null}
    </Sheet>
  );
}

/** Every kind that was counted, by bag. */
function counted(bags: Document["bags"], catalogue: Catalogue): string[] {
  const tables = {
    bends: catalogue.bends,
    devices: catalogue.devices,
    hitches: catalogue.hitches,
    protections: catalogue.surfaces,
    ropes: catalogue.ropes,
  };
  const rows: string[] = [];
  for (const bag of [{ name: "", ...bags }, ...(bags?.packed ?? [])])
    for (const [table, names] of Object.entries(tables))
      for (const [id, count] of Object.entries(bag[table as keyof typeof tables] ?? {}))
        rows.push(`${count} × ${names[id]?.name ?? id}${bag.name ? `, ${bag.name}` : ""}`);
  return rows;
}

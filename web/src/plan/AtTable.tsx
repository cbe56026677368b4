/** On every page of a table-top: that nothing of it is real, its own clock and how fast that goes, what has happened and nobody has done anything about. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, api } from "../device/client";
import type { TableTop } from "../api/types";
import { OneOf } from "../ui/OneOf";

const ASKS_MS = 2000;
const TICK_MS = 500;
const PACES = ["0", "1", "2", "5", "10"] as const;
type Pace = (typeof PACES)[number];

const tableTopOf = (plan: string) => ["table-top", plan];

/** A table-top as it is now; asked again while it goes, since what happens in it is told by then. */
export function useTableTop(plan: string) {
  return useQuery({
    queryKey: tableTopOf(plan),
    queryFn: async () =>
      answered(await api.GET("/api/plans/{plan_id}/table-top", { params: { path: { plan_id: plan } } })),
    refetchInterval: (query) => (query.state.data?.ended ? false : ASKS_MS),
  });
}

export function AtTable({ plan, leads }: { plan: string; leads: boolean }) {
  const { data: top } = useTableTop(plan);
  const queries = useQueryClient();
  const pace = async (at: Pace) => {
    const path = { params: { path: { plan_id: plan } }, body: { pace: Number(at) as 0 } };
    queries.setQueryData(tableTopOf(plan), answered(await api.PUT("/api/plans/{plan_id}/table-top/pace", path)));
  };
  const open = (top?.happened ?? []).filter((one) => one.missed && !top?.ended);
  return (
    <aside aria-label="Table-top" className="border-b-4 border-ink bg-film px-4 py-1" data-testid="table-top">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <p className="mr-auto font-label font-semibold">Table-top: nothing of it is real.</p>
        {top && !top.ended ? <Clock key={`${top.now} ${top.pace}`} top={top} /> : null}
        {top && !top.ended && leads && !top.rigged ? (
          <OneOf
            label="How fast its clock goes"
            value={String(top.pace) as Pace}
            options={PACES.map((id) => ({ id, name: id === "0" ? "Stands" : `${id}×` }))}
            onChange={(id) => void pace(id)}
            small
          />
        ) : null}
      </div>
      <ul aria-live="assertive">
        {open.map((one) => (
          <li key={one.kind} className="text-answer leading-snug font-semibold text-over">
            ◆ {one.said}
          </li>
        ))}
      </ul>
    </aside>
  );
}

/** What time it is in it, going on between what the server says. */
function Clock({ top }: { top: TableTop }) {
  const [gone, set] = useState(0);
  useEffect(() => {
    const began = performance.now();
    const timer = window.setInterval(() => set((performance.now() - began) * top.pace), TICK_MS);
    return () => window.clearInterval(timer);
  }, [top.pace]);
  const seconds = (Date.parse(top.now) + gone - Date.parse(top.begun_at)) / 1000;
  return (
    <p className="font-label tabular-nums" aria-live="off">
      <b>
        {Math.floor(seconds / 60)}:{String(Math.floor(seconds % 60)).padStart(2, "0")}
      </b>{" "}
      played{top.rigged ? ", on real ropes" : ""}
    </p>
  );
}

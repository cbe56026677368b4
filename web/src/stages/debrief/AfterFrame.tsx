/** The frame of the sheets after a run: the plan's name and theirs, and the way from each to the others. */
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { answered, api } from "../../device/client";
import { AtTable } from "../../plan/AtTable";

const SHEETS = [
  ["debrief", "Debrief"],
  ["gear", "Gear"],
  ["handover", "Hand over"],
  ["log", "Log"],
  ["run", "Run"],
  ["check", "Plan"],
] as const;
/** Of a table-top nothing is counted, handed over or put on paper. */
const REAL: string[] = ["gear", "handover"];

interface Props {
  plan: string;
  here: (typeof SHEETS)[number][0];
  title: string;
  children: ReactNode;
}

export function AfterFrame({ plan, here, title, children }: Props) {
  const of = useQuery({
    queryKey: ["plan", plan],
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}", { params: { path: { plan_id: plan } } })),
    retry: false,
  });
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)] bg-sheet">
      <div>
        {of.data?.table_top ? <AtTable plan={plan} leads={of.data.team.role === "leader"} /> : null}
        <header className="flex flex-wrap items-center border-b border-line bg-film">
          <div className="mr-auto min-w-0 px-4 py-1 leading-tight">
            <h1 className="text-answer font-semibold">{title}</h1>
            <p className="min-h-5 font-label text-note text-quiet">{of.data?.latest.document.title}</p>
          </div>
          <nav aria-label="After the run" className="flex flex-wrap px-1">
            {SHEETS.filter(([path]) => !of.data?.table_top || !REAL.includes(path)).map(([path, name]) => (
              <Link
                key={path}
                to={`/plans/${plan}/${path}`}
                aria-current={path === here ? "page" : undefined}
                className={`flex min-h-11 items-center px-3 hover:bg-sheet max-sm:px-2 ${path === here ? "font-semibold underline decoration-2 underline-offset-4" : ""}`}
              >
                {name}
              </Link>
            ))}
          </nav>
        </header>
      </div>
      {children}
    </div>
  );
}

/** Handing a plan over: whether every seal fits and who says so, what to take away, and links by which somebody from outside reads it. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { answered, api } from "../../device/client";
import type { Handover } from "../../api/types";
import { wrongOf } from "../../ui/faults";
import { Choice } from "../../ui/fields";
import { clock, day } from "../../ui/format";
import { Wrong } from "../../ui/Wrong";
import { AfterFrame } from "./AfterFrame";

const DAYS = [1, 3, 7, 14, 30, 90].map((one) => ({ id: String(one), name: one === 1 ? "1 day" : `${one} days` }));

const path = (plan_id: string) => ({ params: { path: { plan_id } } });

export function HandoverPage({ caution }: { caution: string }) {
  const { id = "" } = useParams();
  const found = useQuery({
    queryKey: ["handover", id],
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}/handover", path(id))),
    retry: false,
    staleTime: 0,
  });
  const reads = Boolean(found.data?.until ?? found.data?.handed_over);
  const title = found.data ? `: ${found.data.title}` : "";
  return (
    <AfterFrame plan={id} here="handover" title={`${reads ? "To be read" : "Hand over"}${title}`}>
      <main tabIndex={-1} className="min-h-0 overflow-y-auto px-4 pt-2 pb-6">
        {found.data ? (
          <>
            <Stands told={found.data} />
            <Away plan={id} />
            {found.data.links ? <Readers plan={id} links={found.data.links} /> : null}
            <p className="mt-4 max-w-[75ch] font-label text-quiet">{caution}</p>
          </>
        ) : (
          <p className="text-answer">
            {found.error
              ? `◆ ${wrongOf(found.error, "No connection: the seals are on the server.")}`
              : "Working out every seal."}
          </p>
        )}
      </main>
    </AfterFrame>
  );
}

const when = (time: string) => `${day(time)}, ${clock(time)}`;

/** What can be relied on, and who says so. */
function Stands({ told }: { told: Handover }) {
  const { statement, broken } = told;
  return (
    <section aria-label="What stands" className="max-w-[75ch] text-answer leading-snug">
      {broken.length ? (
        <div role="alert" className="border-l-4 border-over bg-tint px-3 py-1.5">
          <p className="font-semibold text-over">◆ Not as it was written:</p>
          <ul>
            {broken.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ul>
        </div>
      ) : (
        <p data-testid="stands">
          ■ Every seal fits: revision {statement.revision}, {statement.entries} entries in the log, its photographs and
          readings. Worked out {when(statement.at)}.
        </p>
      )}
      <p className="mt-1">
        Signed by this installation, key print <b className="whitespace-nowrap tabular-nums">{told.key_print}</b>; it is
        the same on its run reports.
      </p>
      {told.handed_over ? (
        <p className="mt-1" data-testid="handed-over">
          Read in from a bundle made {when(told.handed_over)} and signed with key print{" "}
          <b className="whitespace-nowrap tabular-nums">{told.handed_over_print}</b>. Compare it with the print on the
          run report of those who made it. It is read here; nothing is written to it.
        </p>
      ) : null}
      {told.until ? (
        <p className="mt-1" data-testid="until">
          You read this until <b>{when(told.until)}</b>. Nothing can be changed in it.
        </p>
      ) : null}
    </section>
  );
}

const AWAY = [
  ["bundle", "Everything as one signed bundle", "revisions, run, log, readings, photographs; read in again elsewhere"],
  ["papers/run", "Run report, PDF", "for the file, and to be gone through together"],
  ["papers/check", "Check sheet, PDF", "what was asked before loading, and who signed"],
  ["papers/card", "Rig card, PDF", "one page to the rim"],
  ["papers/section.svg", "Rig from the side, SVG", "drawings, for a report of one's own"],
  ["papers/anchors.svg", "Anchors from above, SVG", "with their legs"],
  ["papers/bench.svg", "The bench, SVG", "the line at work unfolded"],
  ["log.csv", "Log as a table, CSV", "every entry with its seal"],
  ["log.json", "Log as JSON", "the same, for another program"],
  ["readings.csv", "Readings as a table, CSV", "what every cell read"],
] as const;

function Away({ plan }: { plan: string }) {
  return (
    <section aria-label="Take away" className="mt-4">
      <h2 className="border-b-2 border-ink text-answer font-semibold">Take away</h2>
      <ul>
        {AWAY.map(([file, name, say]) => (
          <li key={file} className="border-b border-line">
            <a
              href={`/api/plans/${plan}/${file}`}
              download
              className="flex min-h-11 flex-wrap items-center gap-x-3 hover:bg-film"
            >
              <span className="text-body font-semibold underline">{name}</span>
              <span className="font-label text-quiet">{say}</span>
            </a>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Links for readers from outside: one made, those that are open, each ended before its date where that is wanted. */
function Readers({ plan, links }: { plan: string; links: NonNullable<Handover["links"]> }) {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [days, setDays] = useState("14");
  const make = useMutation({
    mutationFn: async () =>
      answered(await api.POST("/api/plans/{plan_id}/observers", { ...path(plan), body: { name, days: Number(days) } })),
    onSuccess: () => {
      setName("");
      void queries.invalidateQueries({ queryKey: ["handover", plan] });
    },
  });
  const end = useMutation({
    mutationFn: async (link_id: number) =>
      answered(
        await api.DELETE("/api/plans/{plan_id}/observers/{link_id}", { params: { path: { plan_id: plan, link_id } } }),
      ),
    onSuccess: (told) => queries.setQueryData(["handover", plan], told),
  });
  const fault = make.error ?? end.error;
  return (
    <section aria-label="Readers from outside" className="mt-4">
      <h2 className="border-b-2 border-ink text-answer font-semibold">Let somebody from outside read it</h2>
      <form
        className="mt-1 flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        <label className="min-w-56 flex-1">
          <span className="field-label">For whom</span>
          <input className="field" value={name} maxLength={60} onChange={(event) => setName(event.target.value)} />
        </label>
        <div className="w-40">
          <Choice label="For how long" value={days} options={DAYS} onChange={(one) => setDays(one ?? "14")} />
        </div>
        <button type="submit" className="button button-main" disabled={!name.trim() || make.isPending}>
          Make a link
        </button>
      </form>
      {fault ? <Wrong className="mt-1">{wrongOf(fault)}</Wrong> : null}
      {make.data ? (
        <div className="mt-2 border-2 border-ink px-3 py-1.5" role="status">
          <p>
            Give them this link; it is shown this once. It opens this plan and no other, until {when(make.data.ends_at)}
            .
          </p>
          <p className="text-body font-semibold break-all select-all" data-testid="look-link">
            {window.location.origin}
            {make.data.path}
          </p>
        </div>
      ) : null}
      <ul className="mt-2">
        {links.map((one) => (
          <li key={one.id} className="flex flex-wrap items-center gap-3 border-b border-line text-body">
            <p className="min-w-0 flex-1">
              <b>{one.name}</b> until {when(one.ends_at)}, {one.used ? "used" : "not used yet"}; link made by{" "}
              {one.made_by}
            </p>
            <button type="button" className="min-h-11 px-2 underline" onClick={() => end.mutate(one.id)}>
              End it now
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Reference: every knot, hitch, bend, wrap and threaded device, drawn stage by stage, as it may be loaded, its faults beside the right form; haul systems and
 * anchor schemes. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Knot, KnotStrand } from "../../api/types";
import { answered, api, RETRY_MS } from "../../device/client";
import { KnotDrawing } from "../../drawing/KnotDrawing";
import { useSettings } from "../../ui/settings";
import { AnchorSchemes, HaulSystems } from "./Systems";

export function ReferencePage({ caution }: { caution: string }) {
  const { knot = "" } = useParams();
  const navigate = useNavigate();
  const [{ force }] = useSettings();
  // All of it at once: it is kept on the device, and there without a connection.
  const all = useQuery({
    queryKey: ["knots", force],
    queryFn: async () => answered(await api.GET("/api/knots", { params: { query: { force_unit: force } } })),
    staleTime: Infinity,
    retry: true,
    retryDelay: RETRY_MS,
  });
  const systems = useQuery({
    queryKey: ["systems"],
    queryFn: async () => answered(await api.GET("/api/systems")),
    staleTime: Infinity,
    retry: true,
    retryDelay: RETRY_MS,
  });
  const id = knot || all.data?.knots[0]?.id || "";
  const one = all.data?.knots.find((row) => row.id === id);
  return (
    <div className="flex h-full min-h-[480px] flex-col bg-sheet">
      <header className="flex flex-wrap items-center gap-3 border-b border-line px-4 py-1">
        <Link to="/plans" className="button flex items-center px-3" aria-label="Back to the plans">
          ‹
        </Link>
        <h1 className="text-head font-semibold">Reference</h1>
        <label className="flex min-w-0 flex-1 items-center gap-2 font-label">
          <span className="narrow:sr-only">knot, device, system</span>
          <select
            className="field min-w-0 flex-1"
            value={id}
            onChange={(event) => void navigate(`/reference/${event.target.value}`)}
          >
            <optgroup label="Drawn by stages">
              {(all.data?.knots ?? []).map((row) => (
                <option key={row.id} value={row.id}>
                  {row.name}
                </option>
              ))}
            </optgroup>
            <optgroup label="Systems and anchors">
              <option value="systems">Haul systems</option>
              <option value="schemes">Anchor schemes</option>
            </optgroup>
          </select>
        </label>
        <a className="button flex items-center" href="/api/guide" download>
          Guide
        </a>
      </header>
      {id === "systems" || id === "schemes" ? (
        systems.data ? (
          id === "systems" ? (
            <HaulSystems systems={systems.data.systems} />
          ) : (
            <AnchorSchemes schemes={systems.data.schemes} />
          )
        ) : (
          <main className="p-4 text-answer">Opening.</main>
        )
      ) : one ? (
        <Told key={one.id} knot={one} all={all.data!.knots} />
      ) : (
        <main className="p-4 text-answer">{all.data ? `◆ There is no drawing of “${id}”.` : "Opening."}</main>
      )}
      <footer className="border-t border-line px-4 py-1 font-label text-mark text-quiet">{caution}</footer>
    </div>
  );
}

/** Its strands as far as they have come at a stage. */
function at(knot: Knot, stage: number): KnotStrand[] {
  const { strands, upto } = knot.stages[stage]!;
  if (strands.length) return strands;
  return knot.strands.map((one, number) => ({ ...one, path: one.path.slice(0, upto[number]) }));
}

function Told({ knot, all }: { knot: Knot; all: Knot[] }) {
  const [stage, setStage] = useState(knot.stages.length - 1);
  const [fault, setFault] = useState<string | null>(null);
  const [load, setLoad] = useState<number | null>(null);
  const [mirrored, mirror] = useState(false);
  const [behind, turn] = useState(false);
  const [isSet, draw] = useState(false);
  const [{ night }] = useSettings();
  const wrong = knot.faults.find((one) => one.id === fault);
  const loaded = load === null ? undefined : knot.loads[load];
  const last = knot.stages.length - 1;
  const otherwise = knot.strands.map((one) => wrong?.strands.find((other) => other.id === one.id) ?? one);
  const tight = knot.strands.map((one) => knot.set.find((other) => other.id === one.id) ?? one);
  const shown = wrong ? otherwise : isSet ? tight : at(knot, stage);
  const to = (number: number) => {
    setFault(null);
    setLoad(null);
    draw(false);
    setStage(Math.max(0, Math.min(last, number)));
  };
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_clamp(320px,38%,520px)] narrow:block narrow:overflow-y-auto">
      <main tabIndex={-1} className="flex min-h-0 min-w-0 flex-col p-3 narrow:h-[52vh]">
        <KnotDrawing
          strands={shown}
          whole={isSet ? tight : [...knot.strands, ...(wrong?.strands ?? [])]}
          arrows={loaded?.arrows ?? []}
          mirrored={mirrored}
          behind={behind}
          night={night}
          label={
            wrong
              ? `${knot.name}, wrong: ${wrong.name}`
              : isSet
                ? `${knot.name}, set`
                : `${knot.name}, stage ${stage + 1} of ${last + 1}`
          }
        />
        <div className="mt-2 flex flex-wrap gap-2">
          <button type="button" className="button px-3" aria-pressed={behind} onClick={() => turn(!behind)}>
            {behind ? "From in front" : "From behind"}
          </button>
          <button type="button" className="button px-3" aria-pressed={mirrored} onClick={() => mirror(!mirrored)}>
            {mirrored ? "This hand" : "Other hand"}
          </button>
          {knot.set.length ? (
            <button
              type="button"
              className="button px-3"
              aria-pressed={isSet}
              onClick={() => {
                setFault(null);
                setStage(last);
                draw(!isSet);
              }}
            >
              {isSet ? "Open" : "Set tight"}
            </button>
          ) : null}
          <p className="self-center font-label text-note text-quiet">Turn it with the finger or the arrow keys.</p>
        </div>
      </main>
      <section
        aria-label={knot.name}
        className="min-h-0 overflow-y-auto border-l-2 border-line px-4 pt-2 pb-3 narrow:border-l-0"
      >
        <h2 className="text-head leading-tight font-semibold">{knot.name}</h2>
        <p className="text-body">{knot.used}</p>
        <p className="text-body">
          <b>Not:</b> {knot.not_used}
        </p>
        {knot.keeps ? (
          <p className="text-answer font-semibold text-over">
            {knot.keeps}{" "}
            {knot.origin ? <span className="font-label text-base font-normal text-quiet">({knot.origin})</span> : null}
          </p>
        ) : null}
        <div className="mt-2 border-t border-line pt-2">
          {wrong ? (
            <>
              <h3 className="text-answer font-semibold text-over">◆ Wrong: {wrong.name}</h3>
              <p className="text-body">{wrong.tell}</p>
              <button type="button" className="button mt-1" onClick={() => setFault(null)}>
                The right form
              </button>
            </>
          ) : (
            <>
              <h3 className="text-answer font-semibold">
                Stage {stage + 1} of {last + 1}
              </h3>
              <p className="min-h-14 text-answer leading-snug" aria-live="polite">
                {knot.stages[stage]!.do}
              </p>
              <div className="mt-1 flex gap-2">
                <button type="button" className="button" disabled={stage === 0} onClick={() => to(stage - 1)}>
                  ◂ Back
                </button>
                <button
                  type="button"
                  className="button button-main"
                  disabled={stage === last}
                  onClick={() => to(stage + 1)}
                >
                  Next ▸
                </button>
              </div>
            </>
          )}
        </div>
        <h3 className="mt-3 font-semibold">Look at</h3>
        <ul className="text-body">
          {knot.look.map((one) => (
            <li key={one}>■ {one}</li>
          ))}
        </ul>
        <h3 className="mt-2 font-semibold">Loaded</h3>
        <ul aria-label="Loaded">
          {knot.loads.map((one, number) => (
            <li key={one.then} className="mt-1">
              <button
                type="button"
                className={`button h-auto w-full px-3 py-1 text-left font-normal whitespace-normal ${one.meant ? "" : "border-over text-over"}`}
                aria-pressed={load === number}
                onClick={() => {
                  setFault(null);
                  setStage(last);
                  setLoad(load === number ? null : number);
                }}
              >
                {one.meant ? "■" : "◆"} {one.then}
              </button>
            </li>
          ))}
        </ul>
        <h3 className="mt-2 font-semibold">Goes wrong</h3>
        <div className="flex flex-wrap gap-2">
          {knot.faults.map((one) => (
            <button
              key={one.id}
              type="button"
              className="button h-auto px-3 py-1 text-left whitespace-normal"
              aria-pressed={fault === one.id}
              onClick={() => {
                setLoad(null);
                setFault(fault === one.id ? null : one.id);
              }}
            >
              ◇ {one.name}
            </button>
          ))}
        </div>
        <p className="mt-2 text-body">
          <b>Undone:</b> {knot.undone}
        </p>
        <Beside knot={knot} all={all} />
        <a className="mt-2 inline-flex min-h-11 items-center underline" href={`/api/knots/${knot.id}/card`} download>
          Card to print, PDF
        </a>
      </section>
    </div>
  );
}

/** What else is chosen from, side by side. */
function Beside({ knot, all }: { knot: Knot; all: Knot[] }) {
  const others = all.filter((one) => knot.beside.includes(one.id));
  if (!others.length) return null;
  return (
    <section aria-label="Side by side" className="mt-3">
      <h3 className="font-semibold">Side by side</h3>
      <table className="w-full text-body">
        <thead className="sr-only">
          <tr>
            <th>Which</th>
            <th>For what, and what it comes to</th>
          </tr>
        </thead>
        <tbody>
          {[knot, ...others].map((one) => (
            <tr key={one.id} className="border-t border-line align-top">
              <th scope="row" className="w-32 py-1 pr-2 text-left">
                {one.id === knot.id ? (
                  one.name
                ) : (
                  <Link to={`/reference/${one.id}`} className="font-normal underline">
                    {one.name}
                  </Link>
                )}
              </th>
              <td className="py-1">
                {one.used} {one.keeps ? <b>{one.keeps}</b> : null}{" "}
                <span className="text-quiet">Not: {one.not_used}</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

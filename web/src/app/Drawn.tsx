/** Size-up and Lines: the drawing, and drawn up from below what belongs to it. */
import { useState } from "react";
import type { Holds } from "../api/types";
import { LinesPlan, liesAside } from "../drawing/LinesPlan";
import { Section } from "../drawing/Section";
import { FaultList } from "../plan/FaultList";
import type { OpenPlan } from "../plan/usePlan";
import { Answer } from "../stages/lines/Answer";
import { LinesStage } from "../stages/lines/LinesStage";
import { Drawer } from "../ui/Drawer";
import { unbroken } from "../ui/format";
import { later } from "../ui/later";
import { Region } from "../ui/Region";
import { Since } from "../ui/Since";
import { RopeLeft, StateSwitch } from "./AtDrawing";
import type { OnSheet } from "./useSheet";

const SizeUp = later(async () => (await import("../stages/sizeup/SizeUp")).SizeUp);
const WayStage = later(async () => (await import("../stages/lines/WayStage")).WayStage);

export function Drawn({ sheet, onAsk }: { sheet: OnSheet; onAsk: () => void }) {
  const { stage, open, onWay, way, job, report, state } = sheet;
  // What is next lies in it where it is no choice of its own.
  const led = stage === "lines" && (sheet.pointedAt === "line" || sheet.pointedAt === "minder");
  if (onWay.on)
    return (
      <>
        <Drawing sheet={sheet} onAsk={onAsk} />
        <Drawer name="Way" usual={0.5}>
          {way && job ? (
            <Region name="The way" of={way}>
              <WayStage
                way={way}
                job={job}
                place={Math.min(onWay.place, way.places.length - 1)}
                onPlace={(to) => onWay.goTo(to, way.places[to]?.run_m ?? null)}
                open={open}
                catalogue={sheet.catalogue}
                line={onWay.tight}
                onLine={onWay.along}
              />
            </Region>
          ) : (
            <p role="status" className="p-4">
              <Since>Working out the whole way.</Since>
            </p>
          )}
        </Drawer>
      </>
    );
  if (stage === "size-up")
    return (
      <>
        <Drawing sheet={sheet} onAsk={onAsk} />
        <Drawer name="Ledgers" usual={0.48}>
          <Region name="Size-up" of={sheet.document}>
            <SizeUp open={open} catalogue={sheet.catalogue} lines={sheet.lines} />
          </Region>
        </Drawer>
      </>
    );
  return (
    <>
      <Drawing sheet={sheet} onAsk={onAsk} />
      <Drawer
        name="Bench"
        usual={0}
        up={0.6}
        drawUp={led}
        // As high before the first answer as after it.
        summary={(up) => (
          <div className="roomy:min-h-12 narrow:min-h-24">
            {state ? (
              <Answer document={sheet.document} report={report} state={state} up={up} onTouch={sheet.touch} />
            ) : null}
          </div>
        )}
      >
        <Region name="The bench" of={report}>
          <LinesStage
            open={open}
            catalogue={sheet.catalogue}
            state={state}
            edits={sheet.edits}
            lines={sheet.lines}
            onTouch={sheet.touch}
            onChoose={sheet.choose}
            onTension={onWay.along}
          />
        </Region>
      </Drawer>
    </>
  );
}

type View = "side" | "above";

/** The site from the side and from above; on a small screen one of them. */
function Drawing({ sheet, onAsk }: { sheet: OnSheet; onAsk: () => void }) {
  const { stage, open, document, report, state, holds, onWay, way, lines, touch } = sheet;
  const [view, look] = useState<View>("side");
  const onLine = onWay.on && Boolean(onWay.tight);
  const aside = stage === "lines" && !onWay.on && liesAside(document);
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <h2 className="sr-only">The site along the fall line</h2>
      {stage === "lines" ? (
        <div className="flex min-h-12 flex-wrap items-center gap-1 px-4 py-0.5 narrow:px-2.5">
          {report && state && !sheet.alone ? <StateSwitch report={report} state={state} onState={sheet.show} /> : null}
          {sheet.runs ? (
            <button type="button" className="button px-3" aria-pressed={onWay.on} onClick={sheet.turnWay}>
              {onWay.on ? (
                "Back"
              ) : (
                <>
                  <span className="narrow:hidden">The </span>
                  <span className="inline-block first-letter:uppercase roomy:first-letter:normal-case">whole way</span>
                </>
              )}
            </button>
          ) : null}
          {sheet.alone ? null : (
            <button type="button" className="button px-3 narrow:hidden" onClick={onAsk} aria-label="Ask the plan">
              Ask
            </button>
          )}
          {aside ? (
            <button
              type="button"
              className="button px-3 roomy:hidden"
              aria-pressed={view === "above"}
              onClick={() => look(view === "above" ? "side" : "above")}
            >
              {view === "above" ? "Side" : "Above"}
            </button>
          ) : null}
        </div>
      ) : (
        <div className="min-h-6 px-4 narrow:px-2.5">
          <RopeLeft open={open} />
        </div>
      )}
      {holds?.gone ? <Gone gone={holds.gone} onBack={() => sheet.setGone(null)} /> : null}
      <FaultList open={open} />
      <div className="flex min-h-0 flex-1" data-drawing>
        <div className={`flex min-h-0 min-w-0 flex-1 ${aside && view === "above" ? "narrow:hidden" : ""}`}>
          <Region name="The section" of={report}>
            <Section
              document={onWay.on ? at(document, way?.places[onWay.place]) : document}
              report={onLine ? null : report}
              state={onLine ? null : state}
              span={onLine && way ? way.ends : null}
              gone={onWay.on ? null : (holds?.gone ?? null)}
              shaping={stage === "size-up"}
              canEdit={open.canEdit && !onWay.on}
              onEdit={open.edit}
              onStrand={(strand) => touch({ what: "strand", id: strand.id })}
              onEdge={(crossing) => touch({ what: "crossing", id: crossing.id })}
            />
          </Region>
        </div>
        {aside ? (
          <div
            className={`flex border-line roomy:w-[36%] roomy:min-w-[220px] roomy:border-l ${view === "above" ? "narrow:min-w-0 narrow:flex-1" : "narrow:hidden"}`}
          >
            <LinesPlan
              document={document}
              report={report}
              state={state}
              canEdit={open.canEdit}
              onMoveAnchor={lines.moveAnchor}
              onWalk={lines.walk}
              onRedirect={lines.redirect}
              onStrand={(strand) => touch({ what: "strand", id: strand.id })}
            />
          </div>
        ) : null}
      </div>
    </div>
  );
}

/** A part taken away to see what then holds. */
function Gone({ gone, onBack }: { gone: NonNullable<Holds["gone"]>; onBack: () => void }) {
  const falls = gone.further_m === null;
  return (
    <div role="status" className="mx-3 flex items-center gap-3 border-l-4 border-over bg-tint px-3" data-testid="gone">
      <p className={`flex-1 text-body leading-snug ${falls ? "font-semibold text-over" : ""}`}>
        {falls ? "◆" : "◇"} {unbroken(gone.text)}
      </p>
      <button type="button" className="button my-1" onClick={onBack}>
        Put it back
      </button>
    </div>
  );
}

/** The document with its load at a place of its way, as the core found it. */
function at(document: OpenPlan["document"], place: { x_m: number; z_m: number } | undefined): OpenPlan["document"] {
  if (!place) return document;
  return { ...document, site: { ...document.site, load_at: { x_m: place.x_m, z_m: place.z_m } } };
}

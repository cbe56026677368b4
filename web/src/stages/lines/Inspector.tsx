/** What was touched: what it is, what it carries, its working, what if it goes, and what can be done there. */
import { Link } from "react-router";
import type { Catalogue, Crossing, Document, Report, StateReport } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { lineIndex, taken, withLine } from "../../plan/document";
import type { OpenPlan } from "../../plan/usePlan";
import { Choice } from "../../ui/fields";
import { Figures, type Labelled } from "../../ui/FiguresSheet";
import { degrees, digits, shown, upperFirst } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";
import type { HaulEdits } from "./useHaulEdits";
import type { LineEdits } from "../../plan/useLineEdits";

export interface Touched {
  what: "crossing" | "strand" | "rung" | "answer";
  id: string;
}

interface Props {
  touched: Touched;
  open: OpenPlan;
  report: Report;
  state: StateReport;
  catalogue: Catalogue;
  edits: HaulEdits;
  lines: LineEdits;
  onGone: (part: string) => void;
  onClose: () => void;
}

export function Inspector(props: Props) {
  const { touched, open, report, state, onGone, onClose } = props;
  const raising = report.states.find((one) => one.id === "raising");
  if (touched.what === "crossing") {
    const crossing =
      state.crossings.find((one) => one.id === touched.id) ?? raising?.crossings.find((one) => one.id === touched.id);
    return crossing ? <CrossingSheet {...props} crossing={crossing} /> : null;
  }
  if (touched.what === "strand") return <StrandSheet {...props} />;
  if (touched.what === "rung") {
    const rung = state.rungs.find((one) => one.id === touched.id);
    return rung ? (
      <Sheet title={rung.name} onClose={onClose}>
        <p className="mb-2 text-answer">
          {rung.verdict === "below" ? (
            <b className="text-over">◆ Below {digits(rung.target)} : 1. </b>
          ) : rung.verdict === "meets" ? (
            `■ Meets ${digits(rung.target)} : 1. `
          ) : rung.verdict === "unknown" ? (
            <b className="text-over">◆ Nobody said what it holds. </b>
          ) : (
            "No rating to judge by. "
          )}
          {rung.mend ? `${upperFirst(rung.mend)}.` : ""}
        </p>
        <WhatIf part={rung.takes} onGone={onGone} onClose={onClose} />
        {rung.drawn ? (
          <Link to={`/reference/${rung.drawn}`} className="button mb-2 inline-flex items-center">
            How it is tied
          </Link>
        ) : null}
        <Figures
          figures={[
            ["Margin", rung.margin],
            ["Force on it", rung.force],
            ["Its strength", rung.strength],
          ]}
          first
        />
      </Sheet>
    ) : null;
  }
  const haul = report.haul;
  const figures: Labelled[] = [
    ...(state.group === "raise" && haul
      ? ([
          ["Actual advantage of the system", haul.actual],
          ["Advantage of the whole line", haul.line_actual],
          ["Haulers, sustained", haul.haulers_sustained],
          ["Haulers, in a heave", haul.haulers_heave],
          ["Rise in one haul", haul.stroke],
          ["Rise to the first corner", haul.rise],
          ["Rope through the hands", haul.through_hands],
        ] as Labelled[])
      : []),
    ["At the hand, or what holds the end", state.hand],
    ...state.anchors.map((one): Labelled => [
      `On ${open.document.anchors.find((a) => a.id === one.anchor)?.name ?? one.anchor}`,
      one.force,
    ]),
    ...(state.catch
      ? ([
          ["Free drop", state.catch.drop],
          ["Peak at the load", state.catch.peak],
          ["Slips through", state.catch.slid],
          ["Stops after", state.catch.stops_in],
        ] as Labelled[])
      : []),
    ...report.budgets.flatMap((budget): Labelled[] => [
      [`Rope needed to ${budget.job}, ${budget.line}`, budget.needed],
      [`Rope left to ${budget.job}, ${budget.line}`, budget.left],
    ]),
    ...report.lines.map((line): Labelled => [`Length of the ${line.name.toLowerCase()}`, line.length]),
  ];
  return (
    <Sheet title={`Working, ${state.name.toLowerCase()}`} onClose={onClose}>
      <Figures figures={figures} />
    </Sheet>
  );
}

function WhatIf({ part, onGone, onClose }: { part: string; onGone: (part: string) => void; onClose: () => void }) {
  if (!part) return null;
  return (
    <button
      type="button"
      className="button mb-2"
      onClick={() => {
        onClose();
        onGone(part);
      }}
    >
      What if it goes?
    </button>
  );
}

function StrandSheet({ touched, open, report, state, edits, lines, catalogue, onGone, onClose }: Props) {
  const strand = state.strands.find((one) => one.id === touched.id);
  if (!strand) return null;
  const line = report.lines.find((one) => one.id === strand.line);
  const number = lineIndex(open.document, strand.line);
  const of = (open.document.lines ?? [])[number];
  const act = (change: () => void) => {
    change();
    onClose();
  };
  const hands = state.nodes.some((node) => node.kind === "hands" && [strand.start, strand.end].includes(node.id));
  const free = open.document.features.filter((one) => one.verdict !== "reject");
  return (
    <Sheet title={`${line?.name ?? strand.line}${strand.main ? "" : ", haul rope"}`} onClose={onClose}>
      {strand.tension ? (
        <Figures figures={[["Tension here", strand.tension]]} first />
      ) : (
        <p className="mb-2 text-answer">Slack here: it carries nothing.</p>
      )}
      <div className="my-2">
        <WhatIf part={strand.rope} onGone={onGone} onClose={onClose} />
      </div>
      {hands && state.id === "raising" && open.canEdit ? (
        <div className="mt-3 flex flex-wrap items-end gap-2">
          <button type="button" className="button" onClick={() => act(() => edits.stack("drop-2"))}>
            Stack a 2:1 on this strand
          </button>
          <button type="button" className="button" onClick={() => act(() => edits.stack("z-3"))}>
            Stack a 3:1 on this strand
          </button>
          {of?.haul?.redirects?.length ? (
            <button type="button" className="button" onClick={() => act(lines.straight)}>
              Lead it straight again
            </button>
          ) : (
            <div className="w-full">
              <Choice
                label="Redirect it at"
                value={null}
                options={free.map(({ id, name }) => ({ id, name }))}
                onChange={(id) => id && act(() => lines.redirect(id))}
              />
            </div>
          )}
        </div>
      ) : null}
      {of && open.canEdit ? (
        <div className="mt-3 grid grid-cols-2 gap-2">
          <Choice
            label="Led over"
            value={of.redirects?.[0]?.anchor ?? null}
            none="nothing on its way"
            options={open.document.anchors
              .filter((one) => one.id !== of.anchor && !taken(one).pull)
              .map(({ id, name }) => ({ id, name }))}
            onChange={(anchor) =>
              lines.line(of.id, (old) => ({
                ...old,
                redirects: anchor ? [{ anchor, bend: old.redirects?.[0]?.bend ?? "ball-bearing-pulley" }] : [],
              }))
            }
          />
          <Choice
            label="Runs from"
            value={of.anchor}
            options={open.document.anchors.map(({ id, name }) => ({ id, name }))}
            onChange={(anchor) => anchor && lines.line(of.id, (old) => ({ ...old, anchor }))}
          />
          <Choice
            label="Knot at the load"
            value={of.load_knot}
            options={Object.values(catalogue.knots)}
            onChange={(load_knot) => load_knot && lines.line(of.id, (old) => ({ ...old, load_knot }))}
          />
        </div>
      ) : null}
      <p className="mt-3 font-label">
        To change what it carries, touch a bend or an edge it runs over, or the haul strand.
      </p>
    </Sheet>
  );
}

function CrossingSheet({ crossing, open, report, catalogue, onGone, onClose }: Props & { crossing: Crossing }) {
  const [settings] = useSettings();
  const raising = report.states.find((one) => one.id === "raising")?.crossings.find((one) => one.id === crossing.id);
  const place = crossing.id.split("/")[0] ?? crossing.id;
  const turn = report.lines.flatMap((line) => line.turns).find((one) => one.node === place);
  const edges = open.document.site.edges ?? [];
  const edgeIndex = turn ? edges.findIndex((edge) => edge.x_m === turn.at.x_m && edge.z_m === turn.at.z_m) : -1;
  const edge = edges[edgeIndex];
  const bend = place.slice(place.indexOf(":") + 1);
  const redirect = /^(haul|redirect):(\d+)$/.exec(bend);

  const swap = (kind: string | null) =>
    open.edit((old): Document => {
      if (redirect && kind) {
        const at = Number(redirect[2]) - 1;
        const changed = <T extends { bend?: string }>(list: T[] | undefined) =>
          (list ?? []).map((one, index) => (index === at ? { ...one, bend: kind } : one));
        return withLine(old, crossing.line, (was) =>
          redirect[1] === "haul"
            ? { ...was, haul: { ...was.haul!, redirects: changed(was.haul!.redirects) } }
            : { ...was, redirects: changed(was.redirects) },
        );
      }
      if (crossing.role === "bend" && kind)
        return withLine(old, crossing.line, (was) => ({
          ...was,
          haul: { ...was.haul!, bends: { ...was.haul!.bends, [bend]: kind } },
        }));
      if (edge)
        return {
          ...old,
          site: {
            ...old.site,
            edges: edges.map((one, index) => (index === edgeIndex ? { ...one, protection: kind } : one)),
          },
        };
      // A corner nobody entered becomes an edge with this protection.
      const made = {
        name: `Corner ${edges.length + 1}`,
        x_m: turn!.at.x_m,
        z_m: turn!.at.z_m,
        surface: old.site.surface,
        protection: kind,
        sawn: false,
      };
      return { ...old, site: { ...old.site, edges: [...edges, made] } };
    });
  const change = (newton: number) => {
    const { value, unit } = shown({ low: newton, expected: Math.abs(newton), high: newton, unit: "N" }, settings);
    return Math.abs(newton) < 0.5 ? "no change at the hands" : `${newton > 0 ? "+" : "−"}${value} ${unit} at the hands`;
  };
  const title = crossing.role === "bend" ? `${crossing.name} at ${bend}` : crossing.name;
  return (
    <Sheet title={title} onClose={onClose}>
      <p className="mb-1 font-label">
        {crossing.role === "edge"
          ? `${catalogue.surfaces[crossing.kind]?.name ?? crossing.kind}; the rope turns ${degrees(crossing.turn_rad)} here.`
          : crossing.role === "device"
            ? "Between the load and the brake hand."
            : `The rope turns ${degrees(crossing.turn_rad)} here.`}
      </p>
      {crossing.role === "edge" ? null : <WhatIf part={crossing.node} onGone={onGone} onClose={onClose} />}
      <Figures
        figures={[
          ["What it costs at the hands", raising?.cost],
          ["Force on it", crossing.force],
          ["Share that it passes on", crossing.passes_on],
        ]}
        first
      />
      {raising?.swaps.length && open.canEdit ? (
        <>
          <h3 className="mt-4 mb-1 font-semibold">
            {crossing.role === "edge" ? "Lay here instead" : "Put here instead"}
          </h3>
          <ul>
            {raising.swaps.map((one) => (
              <li key={one.kind}>
                <button
                  type="button"
                  className="mb-1.5 flex min-h-[52px] w-full items-center justify-between gap-3 border-2 border-ink px-3 text-left hover:bg-film"
                  onClick={() => swap(one.kind)}
                >
                  <span className="font-semibold">{one.name}</span>
                  <span className="text-right font-label text-over">
                    {change(one.change_n)}
                    <br />
                    line {digits(one.line_advantage)} : 1
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </>
      ) : null}
      {edge?.protection && open.canEdit ? (
        <button type="button" className="button mt-1" onClick={() => swap(null)}>
          Take the protection away
        </button>
      ) : null}
    </Sheet>
  );
}

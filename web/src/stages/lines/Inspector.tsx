/** What was touched: what it is, what it carries, its working, and what can be done there. */
import type { Catalogue, Crossing, Document, Figure, PhaseReport, Report } from "../../api/types";
import { useSettings } from "../../app/settings";
import type { OpenPlan } from "../../plan/usePlan";
import { degrees, digits, shown } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";
import type { HaulEdits } from "./useHaulEdits";
import { FigureWithWorking } from "../../ui/WorkingView";

export interface Touched {
  what: "crossing" | "strand" | "rung" | "answer";
  id: string;
}

interface Props {
  touched: Touched;
  open: OpenPlan;
  report: Report;
  phase: PhaseReport;
  catalogue: Catalogue;
  edits: HaulEdits;
  onClose: () => void;
}

export function Inspector(props: Props) {
  const { touched, open, report, phase, catalogue, edits, onClose } = props;
  const act = (change: () => void) => {
    change();
    onClose();
  };
  const figures = (list: (Figure | null | undefined)[], first = false) =>
    list.flatMap((figure, index) => (figure ? [<FigureWithWorking key={figure.working} figure={figure} report={report} catalogue={catalogue} open={first && index === 0} />] : []));
  if (touched.what === "crossing") {
    const crossing = phase.crossings.find((one) => one.id === touched.id) ?? report.phases.raise?.crossings.find((one) => one.id === touched.id);
    return crossing ? <CrossingSheet {...props} crossing={crossing} figures={figures} /> : null;
  }
  if (touched.what === "strand") {
    const strand = phase.strands.find((one) => one.id === touched.id);
    return strand ? (
      <Sheet title={report.workings[strand.tension.working]?.title ?? "Strand"} onClose={onClose}>
        {figures([strand.tension], true)}
        {(strand.start === "hand" || strand.end === "hand") && phase.phase === "raise" && open.canEdit ? (
          <div className="mt-3 flex flex-wrap gap-2">
            <button type="button" className="button" onClick={() => act(() => edits.stack("drop-2"))}>
              Stack a 2:1 on this strand
            </button>
            <button type="button" className="button" onClick={() => act(() => edits.stack("z-3"))}>
              Stack a 3:1 on this strand
            </button>
            <button type="button" className="button" onClick={() => act(edits.redirect)}>
              Redirect it
            </button>
          </div>
        ) : null}
        <p className="mt-3 font-label">{strand.main ? "Part of the main rope." : "Part of the haul system."} To change what it carries, touch a bend or an edge it runs over, or the haul strand.</p>
      </Sheet>
    ) : null;
  }
  if (touched.what === "rung") {
    const rung = phase.rungs.find((one) => one.id === touched.id);
    return rung ? (
      <Sheet title={rung.name} onClose={onClose}>
        <p className="mb-2 text-lg">
          {rung.verdict === "below" ? <b className="text-over">◆ Below your {rung.target} : 1. </b> : rung.verdict === "meets" ? `■ Meets your ${rung.target} : 1. ` : rung.verdict === "unknown" ? <b className="text-over">◆ Nobody said what it holds. </b> : "No rating to judge by. "}
          {rung.mend ? `${rung.mend[0]?.toUpperCase()}${rung.mend.slice(1)}.` : ""}
        </p>
        {figures([rung.margin, rung.force, rung.strength], true)}
      </Sheet>
    ) : null;
  }
  const haul = report.haul;
  return (
    <Sheet title={`Working, ${phase.phase}`} onClose={onClose}>
      {figures([...(phase.phase === "raise" && haul ? [haul.actual, haul.line_actual, haul.haulers_sustained, haul.haulers_heave, haul.stroke, haul.rise, haul.through_hands] : []), phase.hand, phase.at_anchor])}
      {figures(report.budgets.flatMap((budget) => [budget.needed, budget.left]))}
      {figures([report.site.line_length])}
    </Sheet>
  );
}

type CrossingProps = Props & { crossing: Crossing; figures: (list: (Figure | null | undefined)[], first?: boolean) => React.ReactNode };

function CrossingSheet({ crossing, open, catalogue, onClose, figures }: CrossingProps) {
  const [settings] = useSettings();
  const raising = open.report?.phases.raise?.crossings.find((one) => one.id === crossing.id);
  const place = crossing.id.split("/")[0] ?? crossing.id;
  const number = Number(place.split(":")[1]) - 1;
  const turn = open.report?.site.turns[number];
  const edges = open.document.site.edges ?? [];
  const edgeIndex = turn ? edges.findIndex((edge) => edge.x_m === turn.at.x_m && edge.z_m === turn.at.z_m) : -1;
  const edge = edges[edgeIndex];

  const swap = (kind: string | null) =>
    open.edit((old): Document => {
      if (crossing.role === "bend") return { ...old, line: { ...old.line, haul: { ...old.line.haul!, bends: { ...old.line.haul!.bends, [crossing.id]: kind! } } } };
      if (edge) return { ...old, site: { ...old.site, edges: edges.map((one, index) => (index === edgeIndex ? { ...one, protection: kind } : one)) } };
      // A corner nobody entered becomes an edge with this protection.
      const made = { name: `Corner ${number + 1}`, x_m: turn!.at.x_m, z_m: turn!.at.z_m, surface: old.site.surface, protection: kind };
      return { ...old, site: { ...old.site, edges: [...edges, made] } };
    });
  const change = (newton: number) => {
    const { value, unit } = shown({ low: newton, expected: Math.abs(newton), high: newton, unit: "N" }, settings);
    return Math.abs(newton) < 0.5 ? "no change at the hands" : `${newton > 0 ? "+" : "−"}${value} ${unit} at the hands`;
  };
  const title = crossing.role === "bend" ? `${crossing.name} at ${crossing.id}` : crossing.name;
  return (
    <Sheet title={title} onClose={onClose}>
      <p className="mb-1 font-label">
        {crossing.role === "edge" ? `${catalogue.surfaces[crossing.kind]?.name ?? crossing.kind}; the rope turns ${degrees(crossing.turn_rad)} here.` : crossing.role === "bend" ? `The rope turns ${degrees(crossing.turn_rad)} here.` : "Between the load and the brake hand."}
      </p>
      {figures([raising?.cost, crossing.force, crossing.passes_on], true)}
      {raising?.swaps.length && open.canEdit ? (
        <>
          <h3 className="mt-4 mb-1 font-semibold">{crossing.role === "bend" ? "Put here instead" : "Lay here instead"}</h3>
          <ul>
            {raising.swaps.map((one) => (
              <li key={one.kind}>
                <button type="button" className="mb-1.5 flex min-h-[52px] w-full items-center justify-between gap-3 border-2 border-ink px-3 text-left hover:bg-film" onClick={() => swap(one.kind)}>
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

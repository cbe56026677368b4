/** Up to four arrangements side by side: what each is worth, what it costs, what happens when something goes. */
import type { ReactNode } from "react";
import type { Anchor, Anchors, ArrangementReport } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { degrees, digits, shown, spanned } from "../../ui/format";

interface Props {
  anchor: Anchor;
  anchors: Anchors | null;
  canEdit: boolean;
  canLog: boolean;
  onShow: (id: string) => void;
  onUse: (id: string) => void;
  onLog: (id: string) => void;
}

export function Compare({ anchor, anchors, canEdit, canLog, onShow, onUse, onLog }: Props) {
  const [settings] = useSettings();
  const reports = anchor.alternatives.map(
    (one) => anchors?.arrangements.find((report) => report.id === one.id) ?? null,
  );
  const best = Math.max(...reports.map((one) => one?.weakest_margin ?? 0));
  const rows: [string, (report: ArrangementReport) => ReactNode][] = [
    ["scheme", (one) => one.scheme],
    [
      "weakest margin",
      (one) =>
        one.weakest_margin === null ? (
          <span className="text-over">◆ not known</span>
        ) : (
          <b className={`text-head ${one.weakest_margin === best ? "underline decoration-2 underline-offset-4" : ""}`}>
            {digits(one.weakest_margin)} : 1
          </b>
        ),
    ],
    ["weakest part", (one) => one.weakest],
    [
      "worst leg",
      (one) =>
        one.sweep
          ? `${one.legs[one.sweep.worst_leg]?.name}, ${spanned(one.sweep.worst, settings)} at ${degrees(one.sweep.worst_rad)}`
          : "",
    ],
    ["moves under load", (one) => (one.movement ? spanned(one.movement, settings) : "")],
    [
      "moves if one goes",
      (one) =>
        one.moves_most ? `${spanned(one.moves_most, settings)}` : <span className="text-over">◆ nothing is left</span>,
    ],
    ["if one goes", (one) => outcomes(one)],
    [
      "material",
      (one) =>
        one.cost
          ? Object.entries(one.cost.material_m).map(([name, metres]) => (
              <span
                key={name}
                className="block"
              >{`${shown({ low: metres, expected: metres, high: metres, unit: "m" }, settings).value} ${settings.length} ${name}`}</span>
            ))
          : "",
    ],
    ["connectors", (one) => one.cost?.connectors],
    ["to build", (one) => (one.cost ? `${spanned(one.cost.minutes, settings)}, common practice` : "")],
    ["to stop for", (one) => one.findings.filter((finding) => finding.level === "stop").length || "nothing"],
  ];
  return (
    <div className="overflow-x-auto">
      <table className="w-full" aria-label="Arrangements side by side">
        <thead>
          <tr className="border-b-2 border-ink align-bottom">
            <td />
            {anchor.alternatives.map((one) => (
              <th key={one.id} className="px-2 pb-1 text-left">
                <button
                  type="button"
                  className="min-h-11 text-left text-body font-semibold underline"
                  onClick={() => onShow(one.id)}
                >
                  {one.name}
                </button>
                {/* Above what is still being worked out: nothing that comes in moves it. */}
                <div className="flex flex-wrap gap-1 font-normal">
                  <button
                    type="button"
                    className="button px-3"
                    disabled={!canEdit || one.id === anchor.taken || Boolean(one.pull)}
                    title={one.pull ? "It has a pull of its own" : ""}
                    onClick={() => onUse(one.id)}
                    aria-label={`${one.id === anchor.taken ? "in use:" : "Use"} ${one.name}`}
                  >
                    {one.id === anchor.taken ? "in use" : "Use"}
                  </button>
                  <button
                    type="button"
                    className="button px-3"
                    disabled={!canLog}
                    onClick={() => onLog(one.id)}
                    aria-label={`Log the choice of ${one.name}`}
                  >
                    Log
                  </button>
                </div>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, show]) => (
            <tr key={name} className="border-b border-line align-top">
              <th className="w-32 py-1.5 pr-2 text-left font-label text-note font-normal text-quiet">{name}</th>
              {reports.map((one, index) => (
                <td key={index} className="px-2 py-1.5 font-label text-base">
                  {!one ? (
                    ""
                  ) : one.available ? (
                    show(one)
                  ) : name === "scheme" ? (
                    <span className="text-over">◆ {one.why_not}</span>
                  ) : (
                    ""
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function outcomes(one: ArrangementReport): ReactNode {
  const worst = ["nothing", "gives", "unknown", "below", "holds"].find((outcome) =>
    one.removals.some((removal) => removal.outcome === outcome),
  );
  const words: Record<string, string> = {
    nothing: "◆ nothing is left to hold",
    gives: "◆ something gives",
    unknown: "◇ not known whether it holds",
    below: "◇ it holds, with little left",
    holds: "■ what remains holds",
  };
  return (
    <span className={worst === "nothing" || worst === "gives" ? "text-over" : ""}>{words[worst ?? ""] ?? ""}</span>
  );
}

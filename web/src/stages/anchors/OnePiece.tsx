/** An anchor out of one piece: how long it has to be and by what, the way it runs, what goes with a cut and with a knot undone. */
import type { ArrangementReport } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { shown } from "../../ui/format";
import { FigureWithWorking } from "../../ui/WorkingView";

const metres = (value: number) => ({ low: value, expected: value, high: value, unit: "m" });

export function OnePiece({ report }: { report: ArrangementReport }) {
  const [settings] = useSettings();
  const piece = report.piece!;
  return (
    <section className="mt-1 border-l-4 border-line px-3 py-1" aria-label="Out of one piece">
      <h3 className="font-semibold">
        Out of one piece: {shown(piece.need.need, settings).value} {settings.length} of {piece.need.material}
      </h3>
      {piece.need.piece_m ? (
        <p className="font-label">
          Off the {shown(metres(piece.need.piece_m), settings).value} {settings.length} piece of the bags:{" "}
          {shown(metres(piece.need.piece_m - piece.need.need.expected), settings).value} {settings.length} left.
        </p>
      ) : null}
      {piece.need.text ? <p className="font-label font-semibold text-over">◆ {piece.need.text}</p> : null}
      <p className="font-label">{piece.way.join(" → ")}</p>
      <div className="grid grid-cols-1 gap-x-6 lg:grid-cols-2">
        <table className="h-min w-full font-label">
          <tbody>
            {piece.parts.map((row, index) => (
              <tr key={index} className="border-b border-line">
                <td>{row.what}</td>
                <td className="text-right text-body text-over">
                  {shown(metres(row.length_m), settings).value} {settings.length}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <ul className="list-none">
          {[...piece.cuts, ...piece.undone].map((text) => (
            <li key={text} className={text.includes("everything") ? "font-semibold text-over" : ""}>
              {text.includes("everything") ? "◆ " : "■ "}
              {text}
            </li>
          ))}
        </ul>
      </div>
      <FigureWithWorking figure={piece.need.need} label="The whole piece" />
    </section>
  );
}

/** Ties that bear nothing, and what sets the point down. */
export function Beside({ report }: { report: ArrangementReport }) {
  const [settings] = useSettings();
  if (!report.others.length && !report.stages.length) return null;
  return (
    <ul className="mt-1 font-label" aria-label="Beside the legs">
      {report.stages.map((one, index) => (
        <li key={`${one.name}${index}`}>
          <FigureWithWorking figure={one.holds} label={`Set down by ${one.name}, holds`} />
        </li>
      ))}
      {report.others.map((one, index) => (
        <li key={index}>
          {one.use === "tie" ? `Held in place at ${one.where}, bears nothing: ` : "To set the point down: "}
          {shown(one.need, settings).value} {settings.length} of {one.material}
          {one.text ? <b className="text-over"> ◆ {one.text}</b> : null}
        </li>
      ))}
    </ul>
  );
}

/** What legs keep of what they were pulled to, round by round. */
export function Tightened({ report }: { report: ArrangementReport }) {
  const [settings] = useSettings();
  const tight = report.tight!;
  const force = (newton: number) => shown({ low: newton, expected: newton, high: newton, unit: "N" }, settings).value;
  return (
    <section className="mt-1 border-l-4 border-line px-3 py-1" aria-label="Pulled tight">
      <h3 className="font-semibold">
        Pulled tight {tight.given ? "in your order" : "best"}: {tight.order.join(", ")}
      </h3>
      <table className="w-full max-w-xl font-label">
        <thead>
          <tr className="border-b border-ink text-left text-note text-quiet">
            <th className="font-normal">leg</th>
            <th className="text-right font-normal">pulled to, {settings.force}</th>
            {tight.rows[0]?.after_n.map((_, round) => (
              <th key={round} className="text-right font-normal">
                after {["once", "twice"][round] ?? `${round + 1} times`} round
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="text-body text-over">
          {tight.rows.map((row) => (
            <tr key={row.name} className="border-b border-line">
              <td className="text-ink">{row.name}</td>
              <td className="text-right text-ink">{force(row.wanted_n)}</td>
              {row.after_n.map((one, round) => (
                <td key={round} className="text-right">
                  {force(one)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

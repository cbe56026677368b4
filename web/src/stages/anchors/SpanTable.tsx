/** A tension line: how deep it hangs and what it pulls, by its pretension. */
import type { ArrangementReport } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { said, shown, spanned } from "../../ui/format";

export function SpanTable({ report }: { report: ArrangementReport }) {
  const [settings] = useSettings();
  const span = report.span!;
  const force = (newton: number) => shown({ low: newton, expected: newton, high: newton, unit: "N" }, settings).value;
  const length = (metres: number) => shown({ low: metres, expected: metres, high: metres, unit: "m" }, settings).value;
  return (
    <section aria-label="Tension line" className="mt-1">
      <p className="text-body">
        Over {said(span.span, settings)} it hangs <b className="text-over">{said(span.sag, settings)}</b> deep and pulls{" "}
        <b className="text-over">{said(span.tension, settings)}</b> at its ends
        {span.slips_at ? `; the device slips at ${spanned(span.slips_at, settings)}` : "; nothing slips"}.
      </p>
      <table className="w-full max-w-xl font-label">
        <thead>
          <tr className="border-b border-ink text-left text-note text-quiet">
            <th className="font-normal">pretension</th>
            <th className="text-right font-normal">line pulls</th>
            <th className="text-right font-normal">hangs</th>
            <th className="text-right font-normal">height won</th>
          </tr>
        </thead>
        <tbody className="text-body text-over">
          {span.rows.map((row) => (
            <tr key={row.pretension_n} className="border-b border-line">
              <td>
                {force(row.pretension_n)} {settings.force}
              </td>
              <td className="text-right">
                {force(row.tension_n)} {settings.force}
              </td>
              <td className="text-right">
                {length(row.sag_m)} {settings.length}
              </td>
              <td className="text-right">
                {length(row.gained_m)} {settings.length}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** The check on paper: one clean sheet in black and white, with the caution. Nothing of it shows on the screen. */
import type { Revision } from "../../api/types";
import type { CheckOf } from "../../plan/useCheck";
import { clock, day } from "../../ui/format";

const WORD = { stop: "STOP", unknown: "not known", look: "look", note: "" } as const;

export function CheckPrint({ found, revision, place }: { found: CheckOf; revision: Revision; place: string }) {
  const { check } = found;
  const name = (line: { id: string; answer: string }) => {
    const last = found.signed.get(line.id);
    return found.standing(line) === "signed" && last ? `${last.by} ${clock(last.at)}` : "";
  };
  return (
    <div className="print-sheet hidden print:block" aria-hidden>
      <h1>Check: {check.title}</h1>
      <p>
        {place ? `${place}. ` : ""}Revision {revision.number}, saved {day(revision.saved_at)} {clock(revision.saved_at)}{" "}
        by {revision.author}, SHA-256 {revision.sha256.slice(0, 16)}. {check.rule}
      </p>
      <table>
        <thead>
          <tr>
            <th>moment</th>
            <th>holds on</th>
            <th>behind it</th>
            <th>hands off</th>
            <th>weakest</th>
            <th>signed</th>
          </tr>
        </thead>
        <tbody>
          {check.rows.map((row) => (
            <tr key={row.id}>
              <th>{row.name}</th>
              {row.why_not ? (
                <td colSpan={4}>{row.why_not}</td>
              ) : (
                <>
                  <td>{row.holds_on}</td>
                  <td>{row.behind}</td>
                  <td>{row.hands_off}</td>
                  <td>{row.weakest}</td>
                </>
              )}
              <td>{name(row)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <table>
        <thead>
          <tr>
            <th>about</th>
            <th>found</th>
            <th>signed</th>
          </tr>
        </thead>
        <tbody>
          {check.lines.map((line) => (
            <tr key={line.id}>
              <td>{check.topics[line.topic]}</td>
              <td>
                {line.accepted ? "" : <b>{WORD[line.level]} </b>}
                {line.text}
                {line.accepted ? ` Accepted by ${line.accepted.by}: ${line.accepted.reason}` : ""}
              </td>
              <td>{name(line)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="print-caution">{check.caution}</p>
    </div>
  );
}

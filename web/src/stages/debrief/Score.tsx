/** What a table-top came to: what happened and what was done about each, what held, how long it took. */
import { useTableTop } from "../../plan/AtTable";

export function Score({ plan }: { plan: string }) {
  const { data: top } = useTableTop(plan);
  if (!top) return null;
  const { score } = top;
  return (
    <section aria-label="What it came to" className="mt-2 border-2 border-ink px-3 py-2" data-testid="score">
      <h2 className="text-head leading-tight font-semibold">{score ? score.text : "Not ended yet"}</h2>
      {score ? (
        <p className="text-body">
          {score.minutes.toFixed(0)} min played; {score.expected_min.expected.toFixed(0)} min (
          {score.expected_min.low.toFixed(0)} to {score.expected_min.high.toFixed(0)}) were expected until the load is
          up.
          {score.taken_over ? ` ◆ ${score.taken_over} taken over against the plan.` : ""}
        </p>
      ) : null}
      <table className="mt-1 w-full text-body">
        <thead>
          <tr className="text-left font-label text-quiet">
            <th className="py-1 pr-3 font-normal">at</th>
            <th className="py-1 pr-3 font-normal">what happened</th>
            <th className="py-1 font-normal">what was done</th>
          </tr>
        </thead>
        <tbody>
          {top.happened.map((one) => (
            <tr key={one.kind} className="border-t border-line align-top">
              <td className="py-1 pr-3 whitespace-nowrap">{one.at_min.toFixed(0)} min</td>
              <td className="py-1 pr-3">{one.said}</td>
              <td className={`py-1 ${one.missed ? "font-semibold text-over" : ""}`}>
                {one.missed ? "◆ " : "■ "}
                {one.text}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {score?.not_come.length ? (
        <p className="text-body text-quiet">Did not come up: {score.not_come.join(", ").toLowerCase()}.</p>
      ) : null}
      {score?.alone.length ? (
        <details className="text-body">
          <summary className="min-h-11 py-2">Steps in which it hung on one thing ({score.alone.length})</summary>
          <ul>
            {score.alone.map((one, number) => (
              <li key={number}>◇ {one}</li>
            ))}
          </ul>
        </details>
      ) : null}
    </section>
  );
}

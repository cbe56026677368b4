/** Who came in, who tried to, and what was changed about it: for leaders. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../device/client";
import { clock, day } from "../../ui/format";

export function WhoCameIn({ team }: { team: number }) {
  const [open, show] = useState(false);
  const found = useQuery({
    queryKey: ["security", team],
    enabled: open,
    queryFn: async () =>
      answered(await api.GET("/api/teams/{team_id}/security", { params: { path: { team_id: team } } })),
  });
  return (
    <div className="mt-4">
      <button type="button" className="button" aria-expanded={open} onClick={() => show(!open)}>
        Who came in, and who tried
      </button>
      {open ? (
        <table className="mt-2 w-full text-body" data-testid="security">
          <thead className="text-left font-label text-quiet">
            <tr>
              <th>When</th>
              <th>What</th>
              <th>Name</th>
              <th>From</th>
            </tr>
          </thead>
          <tbody>
            {(found.data ?? []).map((one, number) => (
              <tr key={`${one.time} ${number}`} className="border-t border-line align-top">
                <td className="py-1 pr-4 whitespace-nowrap">
                  {day(one.time)}, {clock(one.time)}
                </td>
                <td className="py-1 pr-4">
                  {one.kind}
                  {one.said ? `: ${one.said}` : ""}
                  {one.by ? `, by ${one.by}` : ""}
                </td>
                <td className="py-1 pr-4 break-all">{one.name}</td>
                <td className="py-1">{one.address}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
    </div>
  );
}

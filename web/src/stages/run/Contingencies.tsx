/** What can happen at any step, each with its own few steps; the run comes back to where it was. */
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { Sheet } from "../../ui/Sheet";

export function Contingencies({
  team,
  onEnter,
  onClose,
}: {
  team: number;
  onEnter: (id: string) => void;
  onClose: () => void;
}) {
  const found = useQuery({
    queryKey: ["procedures", team],
    queryFn: async () =>
      answered(await api.GET("/api/teams/{team_id}/procedures", { params: { path: { team_id: team } } })),
    staleTime: Infinity,
  });
  const rows = (found.data?.procedures ?? []).filter((one) => one.kind === "contingency");
  return (
    <Sheet title="Something else happened" onClose={onClose} wide>
      <ul className="grid gap-2 sm:grid-cols-2">
        {rows.map((one) => (
          <li key={one.id}>
            <button
              type="button"
              className="button min-h-16! w-full py-1 text-left leading-tight whitespace-normal!"
              onClick={() => onEnter(one.id)}
            >
              <span className="block text-lg">{one.name}</span>
              <span className="block font-label font-normal text-quiet">{one.steps[0]?.do}</span>
            </button>
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

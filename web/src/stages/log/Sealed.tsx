/** Whether what the log says is what was sealed. */
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../../device/client";
import { Wrong } from "../../ui/Wrong";

/** A log longer than this has its seals worked out again every so many entries, not after each. */
const LONG = 2000;

/** Every seal worked out again by the server, whenever the log has grown. */
export function Sealed({ plan, newest }: { plan: string; newest: number }) {
  const found = useQuery({
    queryKey: ["verified", plan, newest > LONG ? Math.floor(newest / LONG) : newest],
    enabled: newest > 0,
    staleTime: Infinity,
    queryFn: async () =>
      answered(await api.GET("/api/plans/{plan_id}/log/verified", { params: { path: { plan_id: plan } } })),
  });
  if (!found.data) return null;
  const { broken, entries } = found.data;
  return broken.length ? (
    <Wrong>{broken.join("; ")}</Wrong>
  ) : (
    <p className="font-label text-quiet" data-testid="sealed">
      {entries} {entries === 1 ? "entry" : "entries"}, every seal fits
    </p>
  );
}

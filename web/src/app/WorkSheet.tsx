/** A plan opened: what this device kept of it, what the server has, and then its sheet. */
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { answered, api } from "../device/client";
import type { Catalogue, Session } from "../api/types";
import { readKept } from "../device/plans";
import { wrongOf } from "../ui/faults";
import { Sheet } from "./OpenSheet";

export function WorkSheet(props: { session: Session; catalogue: Catalogue }) {
  const { id = "" } = useParams();
  const me = props.session.username;
  const plan = useQuery({
    queryKey: ["plan", id],
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}", { params: { path: { plan_id: id } } })),
    staleTime: 0,
    gcTime: 0,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
    retry: true,
    retryDelay: 2000,
  });
  const left = useQuery({
    queryKey: ["kept", id, me],
    queryFn: () => readKept(id, me),
    gcTime: 0,
    staleTime: Infinity,
  });
  if (plan.data && !plan.isFetching && left.data !== undefined)
    return <Sheet {...props} plan={plan.data} left={left.data} key={plan.data.id} />;
  return (
    <main className="p-8 text-answer">
      {plan.failureCount
        ? `◆ ${wrongOf(plan.failureReason, "The server can not be reached.")} Trying again. `
        : "Opening. "}
      <Link to="/plans" className="underline">
        Back to the plans
      </Link>
    </main>
  );
}

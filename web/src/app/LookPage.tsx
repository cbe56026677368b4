/** A reader's link opened: what it is for and until when, and in. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useParams } from "react-router";
import { answered, api } from "../device/client";
import { wrongOf } from "../ui/faults";
import { clock, day } from "../ui/format";
import { Wrong } from "../ui/Wrong";

export function LookPage() {
  const { token = "" } = useParams();
  const queries = useQueryClient();
  const go = useNavigate();
  const path = { params: { path: { token } } };
  const found = useQuery({
    queryKey: ["look", token],
    retry: false,
    queryFn: async () => answered(await api.GET("/api/look/{token}", path)),
  });
  const come = useMutation({
    mutationFn: async () => answered(await api.POST("/api/look/{token}", path)),
    onSuccess: async (session) => {
      queries.setQueryData(["session"], session);
      const [plan] = answered(await api.GET("/api/plans"));
      void go(plan ? `/plans/${plan.id}/handover` : "/plans");
    },
  });
  const fault = come.error ?? found.error;
  return (
    <main className="mx-auto max-w-xl p-6">
      <h1 className="text-call font-semibold">Outrigger</h1>
      {fault ? <Wrong className="mt-4 text-answer">{wrongOf(fault)}</Wrong> : null}
      {found.data ? (
        <>
          <p className="mt-4 text-answer">
            For <b>{found.data.name}</b>: to read <b>{found.data.title}</b>, a plan of {found.data.team} with its run
            and its log, until {day(found.data.ends_at)}, {clock(found.data.ends_at)}. Nothing can be changed in it.
          </p>
          <button
            type="button"
            className="button button-main mt-4"
            disabled={come.isPending}
            onClick={() => come.mutate()}
          >
            Read it
          </button>
        </>
      ) : null}
    </main>
  );
}

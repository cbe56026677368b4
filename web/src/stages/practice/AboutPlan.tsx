/** Drills about a plan of the team: its operation, its ropes, what its cells read. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../device/client";
import { wrongOf } from "../../ui/faults";
import { Choice } from "../../ui/fields";
import { Since } from "../../ui/Since";
import { Wrong } from "../../ui/Wrong";

export function AboutPlan({ onBegin }: { onBegin: (plan: string) => Promise<void> }) {
  const plans = useQuery({
    queryKey: ["plans"],
    queryFn: async () => answered(await api.GET("/api/plans")),
    retry: false,
  });
  const [plan, setPlan] = useState<string | null>(null);
  const [asking, ask] = useState(false);
  const [wrong, setWrong] = useState<unknown>(null);
  const mine = (plans.data ?? []).filter((one) => one.stands !== "anchors");
  if (!mine.length) return null;
  const begin = async () => {
    if (!plan) return;
    ask(true);
    setWrong(null);
    try {
      await onBegin(plan);
    } catch (error) {
      setWrong(error);
    }
    ask(false);
  };
  return (
    <section aria-label="About a plan of yours" className="mt-4">
      <div className="flex flex-wrap items-end gap-3">
        <div className="min-w-0 flex-1 basis-64">
          <Choice
            label="About a plan of yours"
            none="choose"
            value={plan}
            options={mine.map((one) => ({ id: one.id, name: one.title }))}
            onChange={setPlan}
          />
        </div>
        <button type="button" className="button max-sm:w-full" disabled={!plan || asking} onClick={() => void begin()}>
          {asking ? <Since>Making them.</Since> : "Ten about it"}
        </button>
      </div>
      {wrong ? <Wrong>{wrongOf(wrong)}</Wrong> : null}
    </section>
  );
}

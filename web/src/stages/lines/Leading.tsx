/** The bench as hands see it: the rope led step by step, each step laid on the bench as it is reached. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../device/client";
import type { Document, StateReport } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { Bench } from "../../drawing/Bench";
import { wrongOf } from "../../ui/faults";
import { unbroken } from "../../ui/format";
import { Wrong } from "../../ui/Wrong";

interface Props {
  document: Document;
  state: StateReport;
  line: string;
  anchorName: string;
}

export function Leading({ document, state, line, anchorName }: Props) {
  const [{ force, length }] = useSettings();
  const [at, goTo] = useState(0);
  const found = useQuery({
    queryKey: ["lead", document, state.id, line, force, length],
    staleTime: Infinity,
    placeholderData: (before) => before,
    queryFn: async () =>
      answered(
        await api.POST("/api/lead", {
          body: document,
          params: { query: { state: state.id, line, force_unit: force, length_unit: length } },
        }),
      ),
  });
  const steps = found.data?.steps ?? [];
  const here = Math.min(at, Math.max(0, steps.length - 1));
  const laid = new Set(steps.slice(0, here + 1).flatMap((step) => step.strands));
  if (found.isError) return <Wrong className="p-4 text-answer">{wrongOf(found.error)}</Wrong>;
  return (
    <section
      aria-label="As hands see it"
      className="grid min-h-0 flex-1 grid-cols-[minmax(280px,0.72fr)_minmax(0,1fr)] narrow:grid-cols-[minmax(0,1fr)]"
    >
      <div className="flex min-h-0 flex-col">
        <div className="flex items-center gap-2 px-4 pt-1">
          <button type="button" className="button px-3" disabled={here === 0} onClick={() => goTo(here - 1)}>
            Back
          </button>
          <button
            type="button"
            className="button button-main px-3"
            disabled={here >= steps.length - 1}
            onClick={() => goTo(here + 1)}
          >
            Next
          </button>
          <p className="font-label" role="status">
            step {here + 1} of {steps.length}
          </p>
        </div>
        <ol aria-label={found.data?.title ?? "Steps"} className="min-h-0 flex-1 overflow-y-auto px-3 py-1">
          {steps.map((step, index) => (
            <li key={index}>
              <button
                type="button"
                aria-current={index === here ? "step" : undefined}
                className={`grid min-h-11 w-full grid-cols-[28px_minmax(0,1fr)] items-baseline border-l-4 px-2 py-1 text-left leading-snug hover:bg-film ${
                  index === here
                    ? "border-over bg-tint text-answer font-semibold"
                    : index < here
                      ? "border-ink"
                      : "border-line text-quiet"
                }`}
                onClick={() => goTo(index)}
              >
                <span className="font-label">{index + 1}</span>
                <span>
                  {unbroken(step.do)}
                  {index === here && step.look ? (
                    <span className="block font-label text-base font-normal">Look: {step.look}</span>
                  ) : null}
                </span>
              </button>
            </li>
          ))}
        </ol>
      </div>
      <div className="flex min-h-0 flex-col border-l border-line">
        <Bench
          state={state}
          line={line}
          anchorName={anchorName}
          laid={laid}
          onCrossing={() => undefined}
          onStrand={() => undefined}
        />
      </div>
    </section>
  );
}

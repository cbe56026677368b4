/**
 * The rig is otherwise: the leader says on the drawing what is really there, or what is done first, and the steps go on from it; or a step that the plan
 * says does not go is done or left out all the same. Each by name, with a reason.
 */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { components } from "../../api/schema";
import type { Step } from "../../api/types";
import { answered, api } from "../../device/client";
import { RigNow } from "../../drawing/RigNow";
import { upperFirst } from "../../ui/format";
import { Because } from "./Because";

type Thing = components["schemas"]["ThingReport"];
type Way = components["schemas"]["HowReport"];
export type Said = { edits: Way["edits"]; done: boolean };

interface Props {
  plan: string;
  step: Step;
  onSay: (said: Said, reason: string) => void;
  onTake: (act: "done" | "skip", reason: string) => void;
  onClose: () => void;
}

export function TakeOver({ plan, step, onSay, onTake, onClose }: Props) {
  const asked = useQuery({
    queryKey: ["run", plan, "otherwise", step.key, step.lies?.length ?? 0],
    queryFn: async () =>
      answered(await api.GET("/api/plans/{plan_id}/run/otherwise", { params: { path: { plan_id: plan } } })),
  });
  const there = asked.data?.key === step.key ? asked.data : null;
  const [touched, touch] = useState<string | null>(null);
  const [lies, setLies] = useState<Record<string, Way>>({});
  const [first, setFirst] = useState<Way | null>(null);
  const thing = there?.things.find((one) => one.part === touched);
  const said = Object.values(lies);
  const say = (reason: string) =>
    onSay(
      first ? { edits: first.edits, done: true } : { edits: said.flatMap((one) => one.edits), done: false },
      reason,
    );
  const put = (part: string, way: Way) => {
    setFirst(null);
    setLies(({ [part]: had, ...rest }) => (had?.label === way.label ? rest : { ...rest, [part]: way }));
  };
  const does: [string, (reason: string) => void][] = [
    ["It is done", (reason) => onTake("done", reason)],
    ["Leave it out", (reason) => onTake("skip", reason)],
  ];
  return (
    <Because
      title="The rig is otherwise"
      does={said.length || first ? [[first ? "Done: go on" : "So it is: go on from there", say]] : does}
      onClose={onClose}
    >
      <p className="text-head leading-snug font-semibold">{step.do}</p>
      {step.refused.map((one) => (
        <p key={one} className="mt-1 text-answer">
          ◆ {one}
        </p>
      ))}
      {there?.brings.length ? (
        <div className="mt-2 flex flex-wrap items-center gap-2" data-testid="brings">
          <span className="text-answer font-semibold">Done first, it goes:</span>
          {there.brings.map((one) => (
            <Choice key={one.label} on={first?.label === one.label} onClick={() => setFirst(first ? null : one)}>
              {one.label}
            </Choice>
          ))}
        </div>
      ) : null}
      {there ? (
        <>
          <p className="mt-2 text-answer">Before this step. Touch what lies otherwise:</p>
          <RigNow
            step={there}
            onTouch={touch}
            chosen={touched}
            touchable={new Set(there.things.map((one) => one.part))}
          />
          <div className="mt-2 flex flex-wrap gap-2" data-testid="things">
            {there.things.map((one) => (
              <Choice key={one.part} on={touched === one.part} onClick={() => touch(one.part)}>
                {one.name}: <b>{lies[one.part]?.label.toLowerCase() ?? (one.now || "not there")}</b>
              </Choice>
            ))}
          </div>
          {thing ? <Ways thing={thing} chosen={lies[thing.part]} onWay={(way) => put(thing.part, way)} /> : null}
        </>
      ) : null}
      <p className="mt-2 text-answer">
        {said.length || first
          ? "What is told from here on is worked out from this."
          : "Done or left out as it stands, what is told after it is worked out from the plan: look yourself at what holds and what is behind it."}{" "}
        Your reason stands in the log under your name.
      </p>
    </Because>
  );
}

function Ways({ thing, chosen, onWay }: { thing: Thing; chosen: Way | undefined; onWay: (way: Way) => void }) {
  return (
    <div
      className="mt-2 flex flex-wrap items-center gap-2 border-l-4 border-over bg-tint px-3 py-2"
      data-testid="ways"
      role="group"
      aria-label={`${thing.name} is`}
    >
      <span className="text-answer font-semibold">{upperFirst(thing.name)} is</span>
      {thing.ways.map((one) => (
        <Choice key={one.label} on={chosen?.label === one.label} onClick={() => onWay(one)}>
          {one.label}
        </Choice>
      ))}
    </div>
  );
}

function Choice({ on, onClick, children }: { on: boolean; onClick: () => void; children: React.ReactNode }) {
  return (
    <button type="button" className={`button ${on ? "button-main" : ""}`} aria-pressed={on} onClick={onClick}>
      {children}
    </button>
  );
}

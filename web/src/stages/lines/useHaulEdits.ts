/** Changes to the haul system. The core builds the new system; bends it kept keep what sits there. */
import { useState } from "react";
import { answered, api } from "../../api/client";
import type { Catalogue, HaulSystem, Report } from "../../api/types";
import type { OpenPlan } from "../../plan/usePlan";

export interface HaulEdits {
  choose: (system: HaulSystem | null) => void;
  redirect: () => void;
  stack: (id: string) => void;
  /** Why the last change did not come about. */
  trouble: string;
  /** The report from before the last change, so that its cost and gain can be read off. */
  before: Report | null;
}

export function useHaulEdits(open: OpenPlan, catalogue: Catalogue): HaulEdits {
  const [trouble, setTrouble] = useState("");
  const [before, setBefore] = useState<Report | null>(null);
  const haul = open.document.line.haul;
  const choose = (system: HaulSystem | null) => {
    setBefore(open.report);
    open.edit((old) => {
      const had = old.line.haul;
      if (!system) return { ...old, line: { ...old.line, haul: null } };
      const places = bendIds(system);
      const bends = Object.fromEntries(Object.entries(had?.bends ?? {}).filter(([place]) => places.includes(place)));
      const rest = had ?? { attached: "grab" as const, grab: "prusik-8", capture: null, capture_minder: "", reach_m: null };
      return { ...old, line: { ...old.line, haul: { ...rest, system, bends } } };
    });
  };
  const built = async (asked: Promise<Parameters<typeof answered<HaulSystem>>[0]>) => {
    try {
      choose(answered(await asked));
      setTrouble("");
    } catch (error) {
      setTrouble(error instanceof Error && error.message.includes(":") ? error.message : "The server can not be reached; nothing changed.");
    }
  };
  return {
    choose,
    redirect: () => haul && void built(api.POST("/api/haul/redirect", { body: haul.system })),
    stack: (id) => haul && void built(api.POST("/api/haul/stack", { body: { base: haul.system, top: catalogue.systems[id]! } })),
    trouble,
    before,
  };
}

/** Bend ids of a system, as the core names them: the node, numbered where it carries several. */
function bendIds(system: HaulSystem): string[] {
  const inner = system.ropes.flatMap((piece) => piece.slice(1, -1));
  const seen = new Map<string, number>();
  return inner.map((node) => {
    seen.set(node, (seen.get(node) ?? 0) + 1);
    return inner.filter((other) => other === node).length === 1 ? node : `${node}.${seen.get(node)}`;
  });
}

/** Changes to the haul system of the line that raises. The core builds the new system; bends it kept keep what sits there. */
import { useState } from "react";
import { answered, api } from "../../device/client";
import type { Catalogue, HaulSystem, Report } from "../../api/types";
import { haulingLine, withLine } from "../../plan/document";
import { edited, type Edit } from "../../plan/edits";
import type { OpenPlan } from "../../plan/usePlan";
import { wrongOf } from "../../ui/faults";

export interface HaulEdits {
  /** Edits that choose another haul, as the core worked them out. */
  take: (edits: Edit[]) => void;
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
  const line = haulingLine(open.document);
  const haul = line?.haul;
  const choose = (system: HaulSystem | null) => {
    if (!line) return;
    setBefore(open.report);
    open.edit((old) =>
      withLine(old, line.id, (was) => {
        if (!system) return { ...was, haul: null };
        const places = bendIds(system);
        const kept = Object.entries(was.haul?.bends ?? {}).filter(([place]) => places.includes(place));
        const standing = Object.entries(was.haul?.anchors ?? {}).filter(([node]) => system.nodes[node] === "anchor");
        const rest = was.haul ?? NEW;
        return {
          ...was,
          haul: { ...rest, system, bends: Object.fromEntries(kept), anchors: Object.fromEntries(standing) },
        };
      }),
    );
  };
  const built = async (asked: Promise<Parameters<typeof answered<HaulSystem>>[0]>) => {
    try {
      choose(answered(await asked));
      setTrouble("");
    } catch (error) {
      setTrouble(wrongOf(error, "The server can not be reached; nothing changed."));
    }
  };
  return {
    take: (edits) => {
      setBefore(open.report);
      open.edit((old) => edited(old, edits));
    },
    redirect: () => haul && void built(api.POST("/api/haul/redirect", { body: haul.system })),
    stack: (id) =>
      haul && void built(api.POST("/api/haul/stack", { body: { base: haul.system, top: catalogue.systems[id]! } })),
    trouble,
    before,
  };
}

const NEW = {
  attached: "grab" as const,
  grab: "prusik-8",
  capture: "prusik-8",
  capture_minder: "",
  capture_on: "line" as const,
  capture_slack_m: 0.05,
  redirects: [],
  reach_m: null,
  walk_rad: null,
};

/** Bend ids of a system, as the core names them: the node, numbered where it carries several. */
function bendIds(system: HaulSystem): string[] {
  const inner = system.ropes.flatMap((piece) => piece.slice(1, -1));
  const seen = new Map<string, number>();
  return inner.map((node) => {
    seen.set(node, (seen.get(node) ?? 0) + 1);
    return inner.filter((other) => other === node).length === 1 ? node : `${node}.${seen.get(node)}`;
  });
}

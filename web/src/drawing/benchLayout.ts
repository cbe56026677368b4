/** One line unfolded on the ground: anchor left, edges and load right, each strand its own lane. Screen geometry only. */
import type { Crossing, NodeReport, StateReport, Strand } from "../api/types";

export interface LaneRun {
  lane: number;
  from: string;
  to: string;
  strands: Strand[];
  edges: Crossing[];
}

export interface BendSpot {
  crossing: Crossing;
  node: string;
  lanes: [number, number];
}

export interface BenchLayout {
  runs: LaneRun[];
  bends: BendSpot[];
  lanes: number;
  /** Nodes where a rope end is tied or gripped, with the lane of that end. */
  ends: { node: string; lane: number }[];
  nodes: Map<string, NodeReport>;
}

/** Whether a node stays where it is: an anchor, or a block or device fastened to one. */
export function fixed(node: NodeReport | undefined): boolean {
  return node?.kind === "anchor" || Boolean(node?.on);
}

export function layOut(state: StateReport, line: string): BenchLayout {
  const nodes = new Map(state.nodes.map((node) => [node.id, node]));
  // A hitch's own cord is no strand of the bench: the hitch is drawn where it grips.
  const strands = state.strands.filter((one) => one.line === line && !one.rope.endsWith("cord"));
  const ropes = [...new Set(strands.map((one) => one.rope))];
  const crossings = state.crossings.filter((one) => one.line === line);
  const runs: LaneRun[] = [];
  const bends: BendSpot[] = [];
  const ends: BenchLayout["ends"] = [];
  const gripped = new Map<string, number>();
  let lane = -1;
  for (const rope of ropes) {
    const own = strands.filter((strand) => strand.rope === rope);
    const first = own[0]?.start ?? "";
    // A rope that goes on under the grab where the last one ended lies in the same lane.
    const goesOn = gripped.get(first);
    let run: LaneRun = { lane: goesOn ?? ++lane, from: first, to: first, strands: [], edges: [] };
    ends.push({ node: first, lane: run.lane });
    for (const [index, strand] of own.entries()) {
      run.strands.push(strand);
      run.to = strand.end;
      const last = index === own.length - 1;
      const crossing = last || strand.slack ? undefined : crossings.shift();
      const kind = nodes.get(strand.end)?.kind;
      if (!last && kind === "edge") {
        if (crossing) run.edges.push(crossing);
        continue;
      }
      runs.push(run);
      if (last) {
        ends.push({ node: strand.end, lane: run.lane });
        if (kind === "grab") gripped.set(strand.end, run.lane);
      } else {
        if (crossing) bends.push({ crossing, node: strand.end, lanes: [run.lane, lane + 1] });
        run = { lane: ++lane, from: strand.end, to: strand.end, strands: [], edges: [] };
      }
    }
  }
  return { runs, bends, lanes: lane + 1, ends, nodes };
}

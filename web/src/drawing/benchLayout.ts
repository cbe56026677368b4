/** The rig unfolded on the ground: anchor left, edges and load right, each strand its own lane. Screen geometry only. */
import type { Crossing, PhaseReport, Strand } from "../api/types";

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
}

export function layOut(phase: PhaseReport): BenchLayout {
  const kind = new Map(phase.nodes.map((node) => [node.id, node.kind]));
  const runs: LaneRun[] = [];
  const bends: BendSpot[] = [];
  const ends: BenchLayout["ends"] = [];
  const crossings = [...phase.crossings];
  const gripped = new Map<string, number>();
  let lane = -1;
  for (const [rope, route] of phase.ropes.entries()) {
    const strands = phase.strands.filter((strand) => strand.rope === rope);
    const first = route[0] ?? "";
    // A rope that goes on under the grab where the last one ended lies in the same lane.
    const goesOn = gripped.get(first);
    let run: LaneRun = { lane: goesOn ?? ++lane, from: first, to: first, strands: [], edges: [] };
    ends.push({ node: first, lane: run.lane });
    for (const [index, strand] of strands.entries()) {
      run.strands.push(strand);
      run.to = strand.end;
      const last = index === strands.length - 1;
      const crossing = last ? undefined : crossings.shift();
      if (crossing && kind.get(strand.end) === "edge") {
        run.edges.push(crossing);
        continue;
      }
      runs.push(run);
      if (last) {
        ends.push({ node: strand.end, lane: run.lane });
        if (kind.get(strand.end) === "moving") gripped.set(strand.end, run.lane);
      } else if (crossing) {
        bends.push({ crossing, node: strand.end, lanes: [run.lane, lane + 1] });
        run = { lane: ++lane, from: strand.end, to: strand.end, strands: [], edges: [] };
      }
    }
  }
  return { runs, bends, lanes: lane + 1, ends };
}

/** Changes to the lines of the open plan: what is laid, what lowers, what catches, where the haul is led. */
import type { Belay, Document, Haul, Line } from "../api/types";
import {
  anchorOn,
  bareLine,
  bareRope,
  freeFeatures,
  fresh,
  haulingLine,
  mainAnchor,
  mainLine,
  round,
  taken,
  withAnchor,
  withLine,
  withoutLine,
} from "./document";
import type { OpenPlan } from "./usePlan";

export function useLineEdits(open: OpenPlan) {
  const line = (id: string, change: (old: Line) => Line) => open.edit((old) => withLine(old, id, change));
  const haul = (change: Partial<Haul>) =>
    open.edit((old) => {
      const hauling = haulingLine(old);
      if (!hauling?.haul) return old;
      return withLine(old, hauling.id, (was) => ({ ...was, haul: { ...was.haul!, ...change } }));
    });
  return {
    line,
    haul,
    drop: (id: string) => open.edit((old) => withoutLine(old, id)),
    /** The main line laid from the first anchor, on a rope of its own. */
    lay: (kind: string) => open.edit((old) => laid(old, kind)),
    /** A belay of its own rope and, where a feature is free, on its own anchor; or what catches on the one there is. */
    belay: (belay: Belay) => open.edit((old) => belayed(old, belay)),
    second: () => open.edit(doubled),
    /** A 2:1 drop loop of the main rope's free end, the old strand left in as backup. */
    dropLoop: () => open.edit(looped),
    /** A tension line from the main anchor to the free feature furthest off, or to the anchor furthest off; its id. */
    tighten: (): string => {
      const id = fresh(
        "across",
        (open.document.tension_lines ?? []).map((one) => one.id),
      );
      open.edit((old) => tightened(old, id));
      return id;
    },
    /** The haul strand turned at a feature: a new anchor there, its point a step towards the working point. */
    redirect: (feature: string) => open.edit((old) => redirected(old, feature)),
    straight: () => haul({ redirects: [], walk_rad: null }),
    walk: (heading: number) => haul({ walk_rad: heading }),
    moveAnchor: (id: string, to: { x_m?: number; y_m?: number; z_m?: number }) =>
      open.edit((old) =>
        withAnchor(old, id, (anchor) => ({
          ...anchor,
          alternatives: anchor.alternatives.map((one) =>
            one.id === anchor.taken ? { ...one, point: { ...one.point, ...to } } : one,
          ),
        })),
      ),
    /** The load hung straight under the main anchor, nothing bending over an edge. */
    hangStraight: () =>
      open.edit((old) => {
        const { x_m: x = 0, z_m: z = 0 } = taken(mainAnchor(old)).point ?? {};
        const under = old.site.profile.filter((point) => Math.abs(point.x_m - x) < 1.5).map((point) => point.z_m);
        const low = Math.min(z - 2, ...under);
        return {
          ...old,
          load: { ...old.load, contact: "hangs" },
          site: { ...old.site, load_at: { x_m: x, z_m: low } },
        };
      }),
  };
}

export type LineEdits = ReturnType<typeof useLineEdits>;

function laid(old: Document, kind: string): Document {
  const id = fresh(
    "main",
    (old.lines ?? []).map((one) => one.id),
  );
  const rope = fresh(
    "main",
    (old.ropes ?? []).map((one) => one.id),
  );
  return {
    ...old,
    ropes: [...(old.ropes ?? []), bareRope(rope, kind, 60)],
    lines: [...(old.lines ?? []), bareLine(id, rope, old.anchors[0]!.id)],
  };
}

function looped(old: Document): Document {
  const main = mainLine(old);
  if (!main || (old.lines ?? []).some((one) => one.role === "haul" || (one.rope === main.rope && one.end === "other")))
    return old;
  const id = fresh(
    "drop-loop",
    (old.lines ?? []).map((one) => one.id),
  );
  const loop: Line = {
    ...main,
    id,
    role: "haul",
    end: "other",
    redirects: [],
    lowering: null,
    belay: null,
    slack_m: 0,
    haul: {
      system: {
        id: "drop-2",
        name: "2:1 drop loop",
        nodes: { A: "anchor", L: "load" },
        ropes: [["A", "L", "hand"]],
        station: {},
        hand: "away",
        out_of_one: false,
      },
      bends: { L: "unknown" },
      attached: "load",
      grab: "prusik-8",
      capture: "prusik-8",
      capture_minder: "",
      capture_on: "line",
      capture_slack_m: 0.05,
      redirects: [],
      anchors: {},
    },
  };
  return { ...old, lines: [...(old.lines ?? []), loop] };
}

function tightened(old: Document, id: string): Document {
  const near = mainAnchor(old);
  const { x_m: x = 0, y_m: y = 0, z_m: z = 0 } = taken(near).point ?? {};
  const off = (at: { x_m?: number; y_m?: number; z_m?: number }) =>
    Math.hypot((at.x_m ?? 0) - x, (at.y_m ?? 0) - y, (at.z_m ?? 0) - z);
  const feature = [...freeFeatures(old)].sort((a, b) => off(b) - off(a))[0];
  const there = old.anchors.filter((one) => one.id !== near.id && !taken(one).pull);
  const other = [...there].sort((a, b) => off(taken(b).point ?? {}) - off(taken(a).point ?? {}))[0];
  // A free feature well off makes a far end of its own; else the line goes to the anchor furthest off.
  const own = feature && off(feature) > Math.max(5, other ? off(taken(other).point ?? {}) : 0);
  const made = own
    ? anchorOn(old, feature.id, `Far end at ${feature.name}`, "far-end", {
        x_m: round(feature.x_m + (x - feature.x_m) * 0.1),
        y_m: round((feature.y_m ?? 0) + (y - (feature.y_m ?? 0)) * 0.1),
        z_m: feature.z_m ?? 0,
      })
    : null;
  const far = made ?? other;
  if (!far) return old;
  const rope = fresh(
    "tight",
    (old.ropes ?? []).map((one) => one.id),
  );
  const long = Math.ceil(1.3 * off(taken(far).point ?? {}) + 10);
  return {
    ...old,
    anchors: made ? [...old.anchors, made] : old.anchors,
    ropes: [...(old.ropes ?? []), bareRope(rope, "low-stretch-11", long)],
    tension_lines: [
      ...(old.tension_lines ?? []),
      {
        id,
        rope,
        anchor: near.id,
        far: far.id,
        ropes: 1,
        end_knot: "figure-eight-loop",
        pretension_n: 500,
        slips: "self-locking",
        hang_m: 1.5,
      },
    ],
  };
}

/** Another line to the load beside the main one, on a rope and where it can be an anchor of its own. */
function besides(old: Document, stem: string, name: string): { document: Document; line: Line } | null {
  const main = mainLine(old);
  const rope = (old.ropes ?? []).find((one) => one.id === main?.rope);
  if (!main || !rope) return null;
  const used = new Set((old.lines ?? []).map((one) => one.anchor));
  const spare = old.anchors.find((one) => one.id === stem && !used.has(one.id));
  const feature = freeFeatures(old)[0];
  const { x_m: x = 0, y_m: y = 0, z_m: z = 0 } = taken(mainAnchor(old)).point ?? {};
  const side = feature && (feature.y_m ?? 0) < y ? -1.5 : 1.5;
  const anchor =
    spare ?? (feature ? anchorOn(old, feature.id, name, stem, { x_m: x, y_m: round(y + side), z_m: z }) : null);
  const rid = fresh(
    stem,
    (old.ropes ?? []).map((one) => one.id),
  );
  const line: Line = {
    ...main,
    id: fresh(
      stem,
      (old.lines ?? []).map((one) => one.id),
    ),
    rope: rid,
    end: "first",
    anchor: anchor?.id ?? main.anchor,
    redirects: [],
    haul: null,
  };
  const document = {
    ...old,
    anchors: anchor && !spare ? [...old.anchors, anchor] : old.anchors,
    ropes: [...(old.ropes ?? []), { ...rope, id: rid, glazed: false, joins: [], damage: [], kept: [] }],
  };
  return { document, line };
}

function belayed(old: Document, belay: Belay): Document {
  const there = (old.lines ?? []).find((one) => one.role === "belay");
  if (there)
    return withLine(old, there.id, (was) => ({
      ...was,
      belay: { ...belay, minder: was.belay?.minder ?? "", round_ropes: was.belay?.round_ropes ?? 1 },
    }));
  const made = besides(old, "belay", "Belay anchor");
  if (!made) return old;
  const line: Line = { ...made.line, role: "belay", lowering: null, slack_m: 0.3, belay };
  return { ...made.document, lines: [...(old.lines ?? []), line] };
}

function doubled(old: Document): Document {
  const made = besides(old, "second", "Second anchor");
  if (!made) return old;
  return { ...made.document, lines: [...(old.lines ?? []), { ...made.line, role: "second", belay: null }] };
}

function redirected(old: Document, feature: string): Document {
  const hauling = haulingLine(old);
  const at = old.features.find((one) => one.id === feature);
  if (!hauling?.haul || !at) return old;
  const from = taken(mainAnchor(old)).point ?? { x_m: 0, y_m: 0, z_m: 0 };
  const back = { x: at.x_m - (from.x_m ?? 0), y: (at.y_m ?? 0) - (from.y_m ?? 0) };
  const far = Math.hypot(back.x, back.y) || 1;
  // The point lies a sling's length in front of the feature, on the way from the working point.
  const point = {
    x_m: round(at.x_m - (back.x / far) * Math.min(2.5, far / 2)),
    y_m: round((at.y_m ?? 0) - (back.y / far) * Math.min(2.5, far / 2)),
    z_m: at.z_m ?? 0,
  };
  const anchor = anchorOn(old, feature, `Redirect at ${at.name}`, "redirect", point);
  // Away from the feature: that is where its pull then comes from.
  const walk = (at.y_m ?? 0) > 0 ? -Math.PI / 2 : Math.PI / 2;
  const changed = withLine(old, hauling.id, (was) => ({
    ...was,
    haul: { ...was.haul!, redirects: [{ anchor: anchor.id, bend: "ball-bearing-pulley" }], walk_rad: walk },
  }));
  return { ...changed, anchors: [...old.anchors, anchor] };
}

"""Plans for tests, made from the demo document with some of it changed."""

import copy
import json
import math
from pathlib import Path
from typing import Any

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.site.load import GRAVITY

ROOT = Path(__file__).resolve().parents[1]
DEMO = ROOT / "demo" / "alder-gill.json"


def demo_document() -> dict[str, Any]:
    """The demo: main line and belay, the haul redirected along the road."""
    return json.loads(DEMO.read_text(encoding="utf-8"))


def one_rope_document() -> dict[str, Any]:
    """The demo's main line alone, hauled straight back."""
    document = demo_document()
    main = document["lines"][0]
    straight = {key: value for key, value in main["haul"].items() if key not in ("redirects", "walk_rad")}
    only = {key: document[key][:1] for key in ("anchors", "ropes")}
    team = {**document["team"], "people": []}
    return {**document, **only, "team": team, "lines": [{**main, "haul": straight}]}


def changed(document: dict[str, Any], **paths: Any) -> dict[str, Any]:
    """A copy with fields set by path, steps joined by two underscores: `lines__0__haul=None`."""
    found = copy.deepcopy(document)
    for path, value in paths.items():
        *steps, last = path.split("__")
        place: Any = found
        for step in steps:
            place = place[int(step) if step.isdigit() else step]
        place[int(last) if last.isdigit() else last] = value
    return found


def one_rope_plan(**paths: Any) -> Plan:
    return Plan.model_validate(changed(one_rope_document(), **paths))


def demo_plan(**paths: Any) -> Plan:
    return Plan.model_validate(changed(demo_document(), **paths))


def on_one_feature(**paths: Any) -> Plan:
    """The demo on the larch alone: webbing wrapped 3, pulled 2."""
    leg = {"feature": "larch", "method": "wrap-pull", "material": "tubular-25", "turns": 3}
    single = {"id": "one", "name": "Larch", "scheme": "single", "legs": [leg], "connector": "screw-link-10"}
    anchor = {"id": "main", "name": "Main anchor", "alternatives": [single], "taken": "one"}
    return Plan.model_validate(changed(one_rope_document(), **{"anchors": [anchor]} | paths))


def haul(system: str, kind: str = "ball-bearing-pulley", **more: Any) -> dict[str, Any]:
    """A haul on `system` with `kind` at every bend."""
    from rigging.catalogue.haul import bends

    notation = catalogue().systems[system]
    chosen = {place.id: kind for place in bends(notation)}
    return {"system": notation.model_dump(), "bends": chosen, "capture": "prusik-8", "capture_minder": "Ash", **more}


def hanging(load_n: float, **paths: Any) -> Plan:
    """A load of `load_n` newtons hanging straight under the working point's edge, with nothing to bend over.

    The working point is out over the face, so the rope goes down without touching.
    """
    profile = [{"x_m": -5, "z_m": -1}, {"x_m": 0, "z_m": -1}, {"x_m": 0, "z_m": -30}, {"x_m": 9, "z_m": -30}]
    document = changed(
        one_rope_document(),
        load={"items": [{"name": "Load", "mass_kg": load_n / GRAVITY}], "contact": "hangs"},
        site={"profile": profile, "surface": "rough-rock", "edges": [], "load_at": {"x_m": 0.01, "z_m": -20}},
    )
    return Plan.model_validate(changed(document, **paths))


def over_edges(load_n: float, *turns_deg: float, surface: str = "rough-rock", **paths: Any) -> Plan:
    """A load hanging after the rope has turned at one edge for each angle, 5 m of rope between edges."""
    down, at = 0.0, (0.0, 0.0)
    profile, edges = [{"x_m": -5, "z_m": 0}, {"x_m": 0, "z_m": 0}], []
    for number, turn in enumerate(turns_deg, start=1):
        at = (at[0] + 5 * math.cos(down), at[1] - 5 * math.sin(down))
        profile.append({"x_m": at[0], "z_m": at[1]})
        edges.append({"name": f"Edge {number}", "x_m": at[0], "z_m": at[1], "surface": surface, "protection": None})
        down += math.radians(turn)
    end = {"x_m": at[0] + 10 * math.cos(down), "z_m": at[1] - 10 * math.sin(down)}
    profile += [end, {"x_m": end["x_m"] + 5, "z_m": end["z_m"]}]
    document = changed(
        one_rope_document(),
        load={"items": [{"name": "Load", "mass_kg": load_n / GRAVITY}], "contact": "hangs"},
        site={"profile": profile, "surface": surface, "edges": edges, "load_at": end},
    )
    return Plan.model_validate(changed(document, **paths))


def deep() -> Plan:
    """The demo's ravine made 60 m deep, its main rope of three pieces: two joins each way, twelve hauls."""
    document = demo_document()
    site, lip = document["site"], document["site"]["edges"][-1]
    load = site["load_at"]
    wide = 60 / math.hypot(load["x_m"] - lip["x_m"], load["z_m"] - lip["z_m"])

    def deeper(spot: dict[str, Any]) -> dict[str, Any]:
        if spot["x_m"] <= lip["x_m"]:
            return spot
        return {**spot, **{way: lip[way] + wide * (spot[way] - lip[way]) for way in ("x_m", "z_m")}}

    site |= {"profile": [deeper(one) for one in site["profile"]], "load_at": deeper(load)}
    for rope in document["ropes"]:
        rope["length_m"] = 160
    document["ropes"][0]["joins"] = [{"at_m": at_m, "knot": "flat-overhand"} for at_m in (40, 62)]
    return Plan.model_validate(document)


def on_snow() -> Plan:
    """One rope over a snow lip to a buried plate, from the one who fell in."""
    plate = {"id": "plate", "name": "Buried plate", "kind": "snow-deadman", "x_m": -3, "z_m": 0.2,
             "answers": {"snow": "firm", "trench_m": 0.4, "low_pull": "yes", "front": "yes"}, "verdict": "sound-alone", "reason": "firm snow"}  # fmt: skip
    leg = {"feature": "plate", "method": "girth-hitch", "material": "sewn-sling-22", "turns": 1}
    single = {"id": "one", "name": "Plate", "scheme": "single", "legs": [leg], "connector": "steel"}
    anchor = {"id": "main", "name": "Buried anchor", "alternatives": [single], "taken": "one"}
    document = changed(demo_document(), anchors=[anchor])
    document["features"].append(plate)
    site = {**document["site"], "surface": "snow-firm"}
    site["edges"] = [{**edge, "surface": "snow-lip", "protection": "axe-pad"} for edge in site["edges"]]
    main_line = {key: value for key, value in document["lines"][0].items() if key != "lowering"}
    main_line["haul"] = {**haul("z-3", kind="carabiner"), "capture_releasing_m": 1.0}
    people = [{"name": "Alder", "role": "other"}, {"name": "Rowan", "role": "leader"}]
    return Plan.model_validate({**document, "site": site, "lines": [main_line], "ropes": document["ropes"][:1],
                                "team": {**document["team"], "people": people, "haulers": 2}, "load": {**document["load"], "contact": "hangs"}})  # fmt: skip

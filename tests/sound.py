"""A plan with nothing to stop for, and how to change it: the ground on which faults are built."""

import copy
from typing import Any

from rigging.catalogue import catalogue
from tests.plans import changed, demo_document, haul
from tests.reference.test_tension_line import tight_document

SAFETY = {
    "id": "people", "name": "People's anchor", "taken": "people-fir",
    "alternatives": [{
        "id": "people-fir", "name": "Fir", "scheme": "single", "connector": "screw-link-10", "point": {"x_m": -2.4, "y_m": 2.9, "z_m": 0.3},
        "legs": [{"feature": "fir", "method": "wrap-pull", "material": "tubular-25", "turns": 3}],
    }],
}  # fmt: skip


def sound_document(**paths: Any) -> dict[str, Any]:
    """The demo on thicker ropes with stronger grabs, a releasing hitch behind its belay, room for the haulers, and people tied
    in to an anchor of their own."""
    document = demo_document()
    document["anchors"].append(SAFETY)
    document["lines"][0]["lowering"]["device"] = "rack-5"
    for rope in document["ropes"]:
        rope.update(kind="general-use-12.7", length_m=80)
    document["lines"][0]["haul"] = {
        **haul("z-3", grab="tandem-prusik-8"),
        "capture": "tandem-prusik-8",
        "redirects": document["lines"][0]["haul"]["redirects"],
        "way_m": 30,
        "walk_rad": -1.57,
    }
    document["lines"][1]["belay"]["releasing_m"] = 1.0
    document["team"]["people"][4]["tied_to"] = "people"
    document["team"]["people"].append({"name": "Maple", "role": "other"})
    document["team"]["haulers"] = 6
    document["rules"]["anchors_ratio"] = 7
    # Long pieces enough of everything to tie with.
    ties = [one.id for one in catalogue().slings.values() if one.section is None]
    document["kit"] += [{"material": one, "length_m": 40, "count": 12} for one in ties]
    return changed(document, **paths)


def tight_alone(pretension_n: float) -> dict[str, Any]:
    """The load on two tension lines, each on posts of its own, and on nothing else."""
    document = tight_document(slips="self-locking", ropes=2, pretension_n=pretension_n)
    only = changed(
        document,
        lines=[],
        ropes=[one for one in document["ropes"] if one["id"] == "tight"],
        rules__anchors_ratio=5,
        kit=[],
        tension_lines__0__hang_m=0.5,
    )
    for end in ("near", "far"):
        post = next(one for one in only["features"] if one["id"] == f"post-{end}")
        only["features"].append({**post, "id": f"second-{end}", "name": f"Second post, {end}", "y_m": 1.5})
        anchor = copy.deepcopy(next(one for one in only["anchors"] if one["id"] == f"span-{end}"))
        made = anchor["alternatives"][0]
        made["id"], made["legs"][0]["feature"], made["point"]["y_m"] = f"second-{end}-a", f"second-{end}", 1.5
        only["anchors"].append(anchor | {"id": f"second-{end}", "name": f"Second {end} end", "taken": made["id"]})
    only["ropes"] = [{**only["ropes"][0], "length_m": 80, "id": one} for one in ("tight", "tight-2")]
    for one in only["anchors"]:
        for made in one["alternatives"]:
            made["legs"] = [{**leg, "material": "rope-12.7"} for leg in made["legs"]]
    beside = {"id": "beside", "rope": "tight-2", "anchor": "second-near", "far": "second-far"}
    only["tension_lines"].append(only["tension_lines"][0] | beside)
    return only

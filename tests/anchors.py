"""Anchors for tests: legs of known stiffness at known places, and the study of one arrangement."""

from typing import Any

from rigging.document import Plan
from rigging.telling.anchors.report import study
from rigging.telling.anchors.shapes import ArrangementReport
from tests.plans import changed, one_rope_document


def tree(id: str, x: float, y: float, z: float = 0.0, **more: Any) -> dict[str, Any]:
    """A rated tree, 300 mm thick."""
    rating = {"low": 40000, "expected": 45000, "high": 50000}
    answers = {"alive": "yes", "rooted": "deep", "diameter_m": 0.3, "strap_height_m": 0.3}
    whole = {"name": id.title(), "kind": "tree", "answers": answers, "rating_n": rating, "basis": "for the test"}
    return {"id": id, "x_m": x, "y_m": y, "z_m": z, **whole, **more}


def leg(to: str, **more: Any) -> dict[str, Any]:
    return {"feature": to, "method": "wrap-pull", "material": "tubular-25", "turns": 3, **more}


def hung(newtons: float, heading: float = 0.0, dip: float = 0.0) -> dict[str, Any]:
    """A pull of the arrangement's own, exactly known."""
    force = {"low": newtons, "expected": newtons, "high": newtons}
    return {"force_n": force, "heading_rad": heading, "dip_rad": dip}


def plan_of(features: list[dict[str, Any]], scheme: str, legs: list[dict[str, Any]], **more: Any) -> Plan:
    """The demo with one more arrangement, `tried`, on features of its own."""
    tried = {"id": "tried", "name": "Tried", "scheme": scheme, "legs": legs, "connector": "steel", **more}
    one = {"id": "one", "name": "One", "scheme": "single", "legs": [leg(features[0]["id"])], "connector": "steel"}
    document = one_rope_document()
    anchor = {**document["anchors"][0], "alternatives": [one, tried], "taken": "one"}
    return Plan.model_validate(changed(document, features=features, anchors=[anchor], kit=[]))


def tried(plan: Plan, state: str = "raising") -> ArrangementReport:
    """The report on the arrangement `tried`."""
    return study(plan, state, only="tried").arrangements[0]


def said(report: ArrangementReport, id: str) -> str:
    """The text of a finding, or of none."""
    return next((f"{one.text} {one.mend}" for one in report.findings if one.id.startswith(id)), "")

"""A frame at the edge: a high redirect over the demo's ravine lip."""

from collections.abc import Sequence
from typing import Any

from tests.plans import changed, demo_document


def foot(id: str, x: float, y: float, z: float) -> dict[str, Any]:
    return {
        "id": id, "name": f"Foot {id}", "kind": "frame-foot", "x_m": x, "y_m": y, "z_m": z,
        "answers": {"ground": "firm", "hobbled": "yes"}, "rating_n": {"low": 30000, "expected": 40000, "high": 50000},
        "basis": "rock, hobbled",
    }  # fmt: skip


def framed_document(
    feet: list[tuple[float, float, float]], head: tuple[float, float, float], guys: Sequence[str] = (), **paths: Any
) -> dict[str, Any]:
    """The demo's main line led over the head of a frame; `guys` are features that it is guyed to."""
    document = demo_document()
    document["features"] += [foot(f"foot-{n}", *place) for n, place in enumerate(feet, start=1)]
    legs = [{"feature": f"foot-{n}", "method": "frame-leg", "material": "frame-tube"} for n in range(1, len(feet) + 1)]
    legs += [
        {
            "feature": one,
            "method": "wrap-pull",
            "material": "tubular-25",
            "turns": 3,
            "extension": "rope-11",
            "pretension_n": 300,
        }
        for one in guys
    ]
    document["anchors"].append({
        "id": "frame", "name": "Frame at the lip", "taken": "frame-a",
        "alternatives": [{
            "id": "frame-a", "name": "Frame", "scheme": "frame", "legs": legs, "connector": "steel", "swing_rad": 0.0,
            "point": dict(zip(("x_m", "y_m", "z_m"), head, strict=True)),
        }],
    })  # fmt: skip
    document["lines"][0]["redirects"] = [{"anchor": "frame", "bend": "ball-bearing-pulley"}]
    return changed(document, **paths)


# Feet out over the lip, so that the pull comes down between them.
STANDS = framed_document([(8.4, -0.9, -1.9), (8.4, 0.9, -1.9), (11.0, 0.0, -2.5)], (9.9, 0.0, 0.3))
# All its feet too far out: the pull, which a redirect draws back towards the anchor, comes down behind them.
OUT = [(9.4, -0.9, -2.1), (9.4, 0.9, -2.1), (11.0, 0.0, -2.5)]
TIPS = framed_document(OUT, (9.9, 0.0, 0.3), team__heave_n=350)

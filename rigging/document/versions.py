"""Documents of earlier versions, read as ones of today."""

from __future__ import annotations

from typing import Any

from rigging.catalogue import catalogue


def upgraded(given: dict[str, Any]) -> dict[str, Any]:
    """A document of any earlier version as one of today's."""
    if isinstance(given.get("schema_version"), bool):
        return given
    if given.get("schema_version") == 1:
        given = from_version_1(given)
    if given.get("schema_version") == 2:
        given = from_version_2(given)
    # Version 3 said nothing of the operation: it is as composed.
    return {**given, "schema_version": 4} if given.get("schema_version") == 3 else given


def from_version_2(given: dict[str, Any]) -> dict[str, Any]:
    """A document of version 2, which had one line on one of its arrangements, as one of version 3.

    What does not read as version 2 is passed on as it is, for the checks of version 3 to name.
    """
    rest = {
        key: value for key, value in given.items() if key not in ("arrangements", "in_use", "line", "schema_version")
    }
    arrangements, line = given.get("arrangements"), given.get("line")
    if not isinstance(arrangements, list) or not isinstance(line, dict):
        return {**given, "schema_version": 3}
    anchor = {"id": "main", "name": "Main anchor", "alternatives": arrangements, "taken": given.get("in_use")}
    rope = {"id": "main", "kind": line.get("rope"), "length_m": line.get("length_m")}
    kept = {key: value for key, value in line.items() if key not in ("rope", "length_m")}
    main = {"id": "main", "role": "main", "rope": "main", "anchor": "main", **kept}
    return {**rest, "schema_version": 3, "anchors": [anchor], "ropes": [rope], "lines": [main]}


def from_version_1(given: dict[str, Any]) -> dict[str, Any]:
    """A document of version 1, which had one anchor on one feature, as one of version 2.

    What does not read as version 1 is passed on as it is, for the checks of version 2 to name.
    """
    anchor, features = given.get("anchor"), given.get("features")
    rest = {key: value for key, value in given.items() if key not in ("anchor", "schema_version")}
    if not isinstance(anchor, dict) or not isinstance(features, list):
        return {**rest, "schema_version": 2}
    leg = {"feature": anchor.get("feature"), "material": anchor.get("material"), **_method(anchor)}
    single = {"id": "anchor", "name": "Anchor", "scheme": "single", "legs": [leg], "connector": anchor.get("connector")}
    features = [
        {**one, "kind": "other"} if isinstance(one, dict) and one.get("kind") == "snow-anchor" else one
        for one in features
    ]
    return {**rest, "schema_version": 2, "features": features, "arrangements": [single], "in_use": "anchor"}


def _method(anchor: dict[str, Any]) -> dict[str, Any]:
    """Version 1 took any material for any method: a sewn loop can not be wrapped and pulled, so there it is a basket."""
    method, sling = anchor.get("method"), catalogue().slings.get(str(anchor.get("material")))
    sewn = sling is not None and sling.sewn
    if method == "basket":
        return {"method": "basket-loop" if sewn else "basket-tape"}
    if method in ("wrap-2-pull-1", "wrap-3-pull-2"):
        return {"method": "basket-loop"} if sewn else {"method": "wrap-pull", "turns": int(method[5])}
    return {"method": method}

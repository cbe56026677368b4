"""The description of every endpoint as it is published: what makers of clients can make whole clients from."""

from typing import Any

from config.api import api


def published() -> dict[str, Any]:
    """The OpenAPI of every endpoint."""
    found: dict[str, Any] = _plain(api.get_openapi_schema())
    found["info"]["description"] = (
        "Outrigger's own interface. A session's cookie and its CSRF token open it; a cell's key opens what a cell sends."
    )
    return found


def _plain(schema: Any) -> Any:
    """Without defaults of objects, which the objects themselves say, and with one way to point at another part."""
    if isinstance(schema, list):
        return [_plain(one) for one in schema]
    if not isinstance(schema, dict):
        return schema
    found = {name: _plain(one) for name, one in schema.items()}
    if isinstance(found.get("default"), dict | list) and ("allOf" in found or "$ref" in found):
        del found["default"]
    if list(found) == ["allOf"] and len(found["allOf"]) == 1:
        found = found["allOf"][0]
    return found

"""What an endpoint answers that is no JSON: said of it in the OpenAPI, so that clients know what comes."""

from typing import Any


def answers(kind: str) -> dict[str, Any]:
    """For `openapi_extra`: a file of a kind, or text."""
    form = {"type": "string"} if kind.startswith("text/") else {"type": "string", "format": "binary"}
    return {"responses": {200: {"description": "OK", "content": {kind: {"schema": form}}}}}

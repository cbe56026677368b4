"""YAML as version 1.2 has it: `no`, `on` and `y` are words, `1:30` is a text, and only `true` and `false` are truths."""

from __future__ import annotations

import re
from functools import cache
from typing import Any

_TRUTHS = re.compile(r"^(?:true|True|TRUE|false|False|FALSE)$")
_WHOLE = re.compile(r"^[-+]?[0-9]+$")
_NUMBER = re.compile(r"^[-+]?(?:\.[0-9]+|[0-9]+(?:\.[0-9]*)?)(?:[eE][-+]?[0-9]+)?$")
_CHANGED = {"tag:yaml.org,2002:bool", "tag:yaml.org,2002:int", "tag:yaml.org,2002:float", "tag:yaml.org,2002:timestamp"}


def read_yaml(text: str) -> Any:
    """What a text says, plain values only.

    Raises
    ------
    yaml.YAMLError
        If it is no YAML.
    """
    import yaml

    return yaml.load(text, _loader())


@cache
def _loader() -> Any:
    import yaml

    # The parser written in C where this machine has it: ten times faster on the same text.
    class Loader(getattr(yaml, "CSafeLoader", yaml.SafeLoader)):  # type: ignore[misc]
        yaml_implicit_resolvers = {
            first: [(tag, looks) for tag, looks in rules if tag not in _CHANGED]
            for first, rules in yaml.SafeLoader.yaml_implicit_resolvers.items()
        }

    Loader.add_implicit_resolver("tag:yaml.org,2002:bool", _TRUTHS, list("tTfF"))
    Loader.add_implicit_resolver("tag:yaml.org,2002:int", _WHOLE, list("-+0123456789"))
    Loader.add_implicit_resolver("tag:yaml.org,2002:float", _NUMBER, list("-+.0123456789"))
    return Loader

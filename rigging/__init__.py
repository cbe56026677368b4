"""Outrigger's computation core: rope rescue rigging as mechanics. No Django, no network, no clock."""

import os

# Looking for plugins of the validation library reads every installed package at each start; none is wanted.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "1")

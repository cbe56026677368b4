"""Outrigger's computation core: rope rescue rigging as mechanics. No Django, no network, no clock."""

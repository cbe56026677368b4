"""The plan document: what the leader decided."""

from rigging.document.anchors import Anchor, Arrangement, Leg, Place3, Prop, Pull, Span, TieOff
from rigging.document.course import Course, Instead, SectionGiven
from rigging.document.features import Feature, KitItem, PlaceTaken, Verdict
from rigging.document.lines import (
    Belay,
    Damage,
    Haul,
    HitchMade,
    Join,
    Kept,
    Line,
    Lowering,
    OwnPiece,
    Redirect,
    Rope,
    TensionLine,
)
from rigging.document.plan import TABLES, Bag, Bags, Pace, Person, Plan, Rules, Table, Team
from rigging.document.site import Day, Edge, Frame, Load, LoadItem, Point, Site
from rigging.document.tested import AsPulled, Tested

__all__ = [
    "TABLES", "Anchor", "Arrangement", "AsPulled", "Bag", "Bags", "Belay", "Course", "Damage", "Day", "Edge", "Feature", "Frame", "Haul", "HitchMade", "Instead", "Join", "Kept", "KitItem", "Leg", "Line",
    "Load", "LoadItem", "Lowering", "OwnPiece", "Pace", "Person", "Place3", "PlaceTaken", "Plan", "Point", "Prop", "Pull", "Redirect", "Rope", "Rules",
    "SectionGiven", "Site", "Span", "Table", "Team", "TensionLine", "Tested", "TieOff", "Verdict",
]  # fmt: skip

"""What is asked of the core, and what it answers beyond its own models."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from rigging.catalogue import Catalogue
from rigging.catalogue.haul import HaulSystem
from rigging.document import Plan as Document
from rigging.quantities.ranges import Strict


class CatalogueOut(BaseModel):
    """The catalogue, and one of each display unit in SI."""

    catalogue: Catalogue
    units: dict[str, float]


class AskWorking(Strict):
    """Which figure's working: of the plan's report, or of its anchors' in a state."""

    document: Document
    figure: Annotated[str, Field(min_length=1, max_length=300)]
    of: Literal["plan", "anchors"] = "plan"
    state: Annotated[str, Field(max_length=140)] = "raising"


class AskHolds(Strict):
    """What holds in a state, and what happens when a part of it is `gone`; `every` part is questioned, or none."""

    document: Document
    state: Annotated[str, Field(max_length=140)]
    gone: Annotated[str, Field(max_length=140)] | None = None
    every: bool = True


class AskDecided(Strict):
    """A plan before and after what was changed."""

    before: Document
    after: Document


class Doing(BaseModel):
    """How much of how much is done; nothing of nothing where it is over, has not begun, or does not tell."""

    done: int
    of: int


class StackSystems(Strict):
    """`top` stacked on the haul strand of `base`."""

    base: HaulSystem
    top: HaulSystem

"""Anchors in use: each working point, with up to four ways to make it of which one is taken."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field, model_validator

from rigging.catalogue import AnchorScheme, catalogue
from rigging.document.site import Condition
from rigging.document.words import (
    AttachmentId,
    BendId,
    ConnectorId,
    KnotId,
    Metres,
    Name,
    SchemeId,
    SlingId,
    SlipsId,
    SurfaceId,
)
from rigging.quantities.faults import misfit
from rigging.quantities.ranges import Range, Strict


class Place3(Strict):
    x_m: Metres = 0
    y_m: Metres = 0
    z_m: Metres = 0


class TieOff(Strict):
    """A full-strength tie-off on a drum: what the drum is and what it is held by, where the tail goes, what holds it at the end.

    `drum_n` and `axle_n` are the ratings of drum and axle (None: nobody has said); `strap` of `strap_strands` and `connector` hold it
    to its feature (None: it is part of the feature).
    """

    drum_m: Annotated[float, Field(gt=0, le=2)]
    surface: SurfaceId = "rounded-steel"
    drum_n: Range | None = None
    axle_n: Range | None = None
    strap: SlingId | None = None
    strap_strands: Annotated[int, Field(ge=1, le=8)] = 2
    connector: ConnectorId | None = None
    tail_to: Literal["anchor-behind", "same-axle", "nothing"]
    finish: Literal["releasable-hitch", "clipped-slack", "clipped-tight", "half-hitch"]

    @model_validator(mode="after")
    def _ratings_above_nothing(self) -> TieOff:
        for name in ("drum_n", "axle_n"):
            rated = getattr(self, name)
            if rated is not None and rated.low <= 0:
                raise misfit(name, f"the rating starts at {rated.low:g} N", "give a rating above 0")
        return self


class Leg(Strict):
    """One leg: what it is tied to, how, with what, and what runs on from there to the working point.

    Without an `extension` the attachment's own material reaches the working point. Left out, `length_m` is snug to
    the working point; `pretension_n` is how tight it is pulled before loading. `state`: wet or not (None: as the day). `rope`: the rope of the
    plan that it is tied with, still part of it (None: a piece out of the bags).
    """

    feature: Name
    method: AttachmentId
    material: SlingId
    turns: Annotated[int, Field(ge=1, le=12)] | None = None
    extension: SlingId | None = None
    extension_knot: KnotId = "figure-eight-loop"
    length_m: Annotated[float, Field(gt=0, le=500)] | None = None
    pretension_n: Annotated[float, Field(ge=0, le=20_000)] | None = None
    tie_off: TieOff | None = None
    state: Condition | None = None
    rope: Name | None = None

    @model_validator(mode="after")
    def _goes_together(self) -> Leg:
        method = catalogue().attachments[self.method]
        if catalogue().slings[self.material].sewn and not method.of_loop:
            raise ValueError(f"{method.name} can not be made with a sewn loop; take tape, cord or rope with two ends")
        least, most = method.turns.least, method.turns.most
        if self.turns is not None and not least <= self.turns <= most:
            raise ValueError(f"{self.turns} turns do not make a {method.name.lower()}; {least} to {most} turns")
        if self.length_m is not None and self.pretension_n is not None:
            raise ValueError("a leg has either its length or its pretension; leave one of length_m, pretension_n out")
        return self


class Prop(Strict):
    """A pole under the working point, standing on its foot."""

    foot: Place3
    holds_n: Range
    basis: Name


class Span(Strict):
    """The line of a span anchor or tension line between its two legs' features."""

    ropes: Annotated[int, Field(ge=1, le=4)] = 1
    carriage: Literal["gathered", "rolls"] = "gathered"
    ends: Literal["gathered", "one-each"] = "gathered"
    slips: SlipsId | None = None


class Pull(Strict):
    """A pull of the arrangement's own, instead of the main line's: how much, where to in plan, how far down."""

    force_n: Range
    heading_rad: Annotated[float, Field(ge=-math.pi, le=math.pi)] = 0
    dip_rad: Annotated[float, Field(ge=-math.pi / 2, le=math.pi / 2)] = math.pi / 2


class Arrangement(Strict):
    """One way to make an anchor: a working point on legs, by a scheme.

    `heading_rad` is the direction of pull in plan that it is made for (0 straight out, positive to the right looking
    out); left out, the line's own. `swing_rad` is how far the leader expects it to swing to either side. Back-tied:
    the first leg is the front one, the others tie its feature back. Span: one feature at each end, or two at each
    (the first two legs are one end). Frame: the working point is the head of a frame; its legs stand on feet and push, guys
    are tied to features and pull. Self-adjusting: `limit_m` is how far limiting knots let it run, `locked` by a knot.
    """

    id: Name
    name: Name
    scheme: SchemeId
    point: Place3 = Place3()
    legs: Annotated[list[Leg], Field(min_length=1, max_length=8)]
    connector: ConnectorId
    knot: KnotId | None = None
    heading_rad: Annotated[float, Field(ge=-math.pi, le=math.pi)] | None = None
    swing_rad: Annotated[float, Field(ge=0, le=math.pi / 3)] = math.radians(15)
    slider: BendId = "carabiner"
    locked: bool = False
    limit_m: Annotated[float, Field(ge=0, le=20)] | None = None
    prop: Prop | None = None
    span: Span | None = None
    pull: Pull | None = None

    @model_validator(mode="after")
    def _fits_together(self) -> Arrangement:
        scheme = self.made_as
        if len(self.legs) not in scheme.legs:
            raise ValueError(f"{self.name!r} has {len(self.legs)} legs; {scheme.id} wants {scheme.counts}")
        if (self.span is not None) != (scheme.made == "line"):
            raise ValueError("a line between two ends and its span settings go together; give both or neither")
        if self.prop is not None and not scheme.propped:
            raise ValueError(f"a pole holds up no {scheme.id} anchor; leave prop out")
        return self

    @property
    def made_as(self) -> AnchorScheme:
        """Its scheme."""
        return catalogue().schemes[self.scheme]


class Anchor(Strict):
    """A working point in use: its alternatives, to compare, and the id of the one that is `taken`.

    `planning_n` is what it is judged for as long as no line pulls on it; left out, the load held on it.
    """

    id: Name
    name: Name
    alternatives: Annotated[list[Arrangement], Field(min_length=1, max_length=4)]
    taken: Name
    planning_n: Range | None = None

    @model_validator(mode="after")
    def _one_is_taken(self) -> Anchor:
        if self.taken not in [one.id for one in self.alternatives]:
            raise misfit(
                "taken", f"names {self.taken!r}, which is no arrangement of this anchor", "name one of its arrangements"
            )
        return self

    @property
    def arrangement(self) -> Arrangement:
        """The way that is taken."""
        return next(one for one in self.alternatives if one.id == self.taken)

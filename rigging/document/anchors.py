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
    JoinId,
    KnotId,
    Metres,
    Name,
    ProtectionId,
    SchemeId,
    SlingId,
    SlipsId,
    SurfaceId,
)
from rigging.quantities.faults import misfit
from rigging.quantities.ranges import Range, Strict

MOST_STRANDS = 8
Strands = Annotated[int, Field(ge=1, le=MOST_STRANDS)]


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
    plan that it is tied with, still part of it (None: a piece out of the bags). `pulled`: how many of its wraps are pulled out to the point (None: all but
    one). `joined`, `extension_joined`: the bend that its lengths are joined with (None: in one length). `extension_strands` lie side by side. `over`: what it
    bends over on its way (None: nothing), and its `padding` there.
    """

    feature: Name
    method: AttachmentId
    material: SlingId
    turns: Annotated[int, Field(ge=1, le=12)] | None = None
    extension: SlingId | None = None
    extension_knot: KnotId = "figure-eight-loop"
    extension_strands: Strands = 1
    extension_joined: JoinId | None = None
    pulled: Annotated[int, Field(ge=1, le=5)] | None = None
    joined: JoinId | None = None
    over: SurfaceId | None = None
    padding: ProtectionId | None = None
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
        if self.pulled is not None and (
            not method.strands_per_turn or self.pulled > (self.turns or method.turns.usual)
        ):
            raise misfit(
                "pulled",
                f"{self.pulled} wraps of it can not be pulled",
                "no more than it has turns, of a way that is wrapped",
            )
        if self.joined is not None and catalogue().slings[self.material].sewn:
            raise misfit(
                "joined", "a sewn loop is not joined of two lengths", "leave it out, or take what has two ends"
            )
        if self.length_m is not None and self.pretension_n is not None:
            raise ValueError("a leg has either its length or its pretension; leave one of length_m, pretension_n out")
        return self


class OnePiece(Strict):
    """All legs out of one rope, cord or tape, in their order: to the first feature, a bight to the working point, to the next, and so on.

    `closed`: all bights in one `knot` at the working point, each leg by one of its own, or none: they run on the slider. `joined`: the bend that its ends
    are tied together with (None: they end in the knot at the working point, or round the first and last feature).
    """

    closed: Literal["one-knot", "leg-by-leg", "slides"]
    knot: KnotId | None = None
    joined: JoinId | None = None

    @model_validator(mode="after")
    def _knotted(self) -> OnePiece:
        if (self.knot is None) != (self.closed == "slides"):
            raise misfit(
                "knot",
                "what runs on a slider has no knot there, anything else has one",
                "name its knot, or let it slide",
            )
        return self


class Stage(Strict):
    """Rope, cord or tape between where the legs come together and the working point, as far as the stage goes: `strands` side by side, a `knot` at
    either end, `joined` of two lengths (None: in one); of a `rope` of the plan, or out of the bags."""

    material: SlingId
    strands: Strands = 2
    knot: KnotId
    joined: JoinId | None = None
    rope: Name | None = None

    @model_validator(mode="after")
    def _bends(self) -> Stage:
        if catalogue().slings[self.material].section is not None:
            raise misfit(
                "material",
                f"{catalogue().slings[self.material].name} hangs nothing down",
                "name a rope, a cord, tape or slings",
            )
        return self


class SetDown(Strict):
    """A working point set further down than where its legs come together, in stages of like length, each held before the next."""

    gathers_at: Place3
    stages: Annotated[list[Stage], Field(min_length=1, max_length=4)]


class Tightening(Strict):
    """Legs in the order in which they are pulled tight, by number from 0, and how often round."""

    order: Annotated[list[Annotated[int, Field(ge=0, le=7)]], Field(min_length=2, max_length=8)]
    rounds: Annotated[int, Field(ge=1, le=6)] = 1


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
    `connector` None: its knot gathers without one. `piece`: all legs are out of one. `ties` only hold it in place and bear nothing. `set_down`: its
    legs come together further up. `tightened`: in which order.
    """

    id: Name
    name: Name
    scheme: SchemeId
    point: Place3 = Place3()
    legs: Annotated[list[Leg], Field(min_length=1, max_length=8)]
    connector: ConnectorId | None
    knot: KnotId | None = None
    piece: OnePiece | None = None
    ties: Annotated[list[Leg], Field(max_length=4)] = []
    set_down: SetDown | None = None
    tightened: Tightening | None = None
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
        self._of_one_piece()
        if self.set_down is not None and scheme.made != "point":
            raise misfit(
                "set_down", f"the legs of {scheme.id} do not come together in a point of their own", "leave it out"
            )
        if self.tightened is not None and sorted(self.tightened.order) != list(range(len(self.legs))):
            raise misfit(
                "tightened.order",
                "not every leg stands in it once",
                f"the numbers 0 to {len(self.legs) - 1} in some order",
            )
        if self.connector is None and self.gathering is None:
            raise misfit(
                "connector",
                "without a connector nothing gathers the legs",
                "name its connector, or the knot that gathers them",
            )
        for number, tie in enumerate(self.ties):
            if tie.extension or tie.pretension_n or tie.length_m:
                raise misfit(
                    f"ties[{number}]",
                    "it only holds the point in place",
                    "no extension, length or pretension, or make it a leg",
                )
        return self

    def _of_one_piece(self) -> None:
        if self.piece is None:
            for number, leg in enumerate(self.legs):
                if catalogue().attachments[leg.method].in_piece == "only":
                    raise misfit(
                        f"legs[{number}].method",
                        "it is a way of anchors out of one piece",
                        "say how the piece is closed, or another way",
                    )
            return
        if self.made_as.made != "point":
            raise misfit("piece", f"{self.made_as.id} is not made out of one piece", "leave it out, or another scheme")
        if self.slides != (self.piece.closed == "slides"):
            raise misfit(
                "piece.closed",
                "whether it slides at the point is said twice, otherwise",
                "slides for what adjusts, else how it is knotted",
            )
        if self.knot is not None:
            raise misfit("knot", "its knot is the piece's", "leave it out")
        tied = [catalogue().attachments[leg.method].in_piece == "end" for leg in (self.legs[0], self.legs[-1])]
        if self.piece.closed == "slides" and not self.piece.joined and not all(tied):
            raise misfit(
                "piece.joined",
                "an end of what slides is tied to nothing",
                "join its ends, or tie each round its feature",
            )
        first = self.legs[0]
        for number, leg in enumerate(self.legs):
            way, path = catalogue().attachments[leg.method], f"legs[{number}]"
            if way.in_piece == "never" or (
                way.in_piece == "end" and (number not in (0, len(self.legs) - 1) or self.piece.joined)
            ):
                raise misfit(
                    f"{path}.method",
                    f"{way.name} can not be tied there in the piece",
                    "passed, clove or wrapped; a bowline at either end",
                )
            if (leg.material, leg.rope) != (first.material, first.rope):
                raise misfit(
                    f"{path}.material", "the piece is of another material", f"{first.material}, as the first leg"
                )
            if leg.extension is not None or leg.joined is not None:
                raise misfit(
                    f"{path}.extension", "a leg of the piece is the piece's own strands", "leave extension and join out"
                )
        if len(self.legs) == 1 and tied[0]:
            raise misfit("piece", "one leg tied at its end is no anchor out of one piece", "leave it out")

    @property
    def slides(self) -> bool:
        """Whether its legs share one cord that runs at the point."""
        return self.made_as.slides == "unless-locked" and not self.locked

    @property
    def gathering(self) -> str | None:
        """The knot that gathers its legs at the point (None: a connector does, or it slides)."""
        return self.piece.knot if self.piece is not None else self.knot

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

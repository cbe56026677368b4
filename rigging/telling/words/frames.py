"""Words of what the checks of `frames` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.frames.frame_by_guys import FrameByGuys
from rigging.checks.frames.frame_may_tip import FrameMayTip
from rigging.checks.frames.frame_stands import FrameStands
from rigging.checks.frames.frame_tips import FrameTips
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair

# A pull that never comes down to the feet is told as being nowhere near them.
_NOWHERE_M = -100.0


def _outside(found: FrameTips | FrameByGuys, say: Wording) -> str:
    if found.feet == 2:
        return "beside its two feet"
    if found.inside_m < _NOWHERE_M:
        return "nowhere between its feet"
    return f"{say.length(-found.inside_m)} outside its feet"


def frame_by_guys(found: FrameByGuys, plan: Plan, say: Wording) -> Pair:
    return (
        f"{plan.anchor(found.anchor).name}: the pull on the frame's head goes down {_outside(found, say)}: it stands by its {'guy' if found.guys == 1 else 'guys'} alone.",
        "Set its feet so that the pull comes down between them, or look at every guy as at an anchor.",
    )


def frame_may_tip(found: FrameMayTip, plan: Plan, say: Wording) -> Pair:
    """A frame that stands as expected, but not everywhere in the ranges of its ropes and its pull, or not wherever that swings."""
    name = plan.anchor(found.anchor).name
    if found.swung:
        return (
            f"{name}: the frame stands under the pull, but comes down within the swing that is allowed for.",
            "A guy to either side, or a redirect that keeps the pull where it is.",
        )
    return (
        f"{name}: the frame stands as expected, but comes down where its ropes are softest or the pull is greatest.",
        "Stiffer guys, drawn tight, or its feet set so that the pull comes down between them.",
    )


def frame_stands(found: FrameStands, plan: Plan, say: Wording) -> Pair:
    return (f"{plan.anchor(found.anchor).name}: the pull comes down {say.length(found.inside_m)} inside its feet.", "")


def frame_tips(found: FrameTips, plan: Plan, say: Wording) -> Pair:
    return (
        f"{plan.anchor(found.anchor).name}: the pull on the frame's head goes down {_outside(found, say)}, and nothing holds it there: it tips.",
        "A guy to the other side, or its feet set so that the pull comes down between them.",
    )

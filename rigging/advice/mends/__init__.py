"""What would mend a finding, as edits of the document: each can be made, and taken back. Best first."""

from rigging.advice.mends import anchors, ground, holding, strength, tied, working
from rigging.advice.mends.mend import Mend, Mender
from rigging.document import Plan
from rigging.judging.found import Found

__all__ = ["Mend", "mends_of"]

_MENDERS: dict[str, Mender] = {
    **holding.MENDERS,
    **strength.MENDERS,
    **tied.MENDERS,
    **working.MENDERS,
    **ground.MENDERS,
    **anchors.MENDERS,
}


def mends_of(found: Found, plan: Plan) -> list[Mend]:
    """What would mend a finding; empty where no change of the plan alone does."""
    mender = _MENDERS.get(found.kind)
    return list(mender(found, plan)) if mender else []

"""What stands open before a load comes on: stops that nobody mended or accepted, unknowns, and lines that no second person has signed."""

from dataclasses import asdict, dataclass

from plans.models import Plan, Revision

from operations.checked import check_of
from operations.selectors import signed_lines
from rigging.quantities.faults import Refused


@dataclass(frozen=True)
class Before:
    """Numbers of the check's lines that are open, by their level, and of those that can be signed and are not. `unmade`: why there is no check."""

    stops: int
    unknowns: int
    unsigned: int
    unmade: str = ""

    @property
    def text(self) -> str:
        """In words; empty where nothing is open."""
        counts = [(self.stops, "stop"), (self.unknowns, "unknown")]
        said = [f"{n} {what}{'s' if n > 1 else ''} open" for n, what in counts if n]
        if self.unsigned:
            said.append(f"{self.unsigned} line{'s' if self.unsigned > 1 else ''} that nobody else has signed")
        return self.unmade or ", ".join(said)

    def data(self) -> dict[str, object]:
        return {"open": asdict(self)} if self.text else {}


def before(plan: Plan, revision: Revision) -> Before:
    """What is open in the check of a revision."""
    try:
        found = check_of(plan, revision.document)
    except Refused as refused:
        return Before(0, 0, 0, f"no check: {refused.faults[0].problem}")
    unknowns = sum(one.open and one.level == "unknown" for one in found.lines)
    signed = {id: said["answer"] for id, (said, _) in signed_lines(plan).items()}
    unsigned = sum(signed.get(id) != one["answer"] for id, one in found.signable().items())
    return Before(found.stops, unknowns, unsigned)

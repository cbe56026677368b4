"""What stands open before a load comes on: stops that nobody mended or accepted, unknowns, and lines that no second person has signed."""

from dataclasses import asdict, dataclass
from functools import lru_cache

from core import engine
from plans.models import Plan, Revision

from operations.selectors import signed_lines
from rigging.document import Plan as Document
from rigging.quantities.faults import Refused
from rigging.telling.check.sheet import check


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


@lru_cache(maxsize=64)
def _lines(document: str) -> tuple[int, int, dict[str, str]]:
    """Stops and unknowns that are open, and the answer of every line that can be signed."""
    found = engine.ask_long(check, Document.model_validate_json(document))
    unknowns = sum(one.open and one.level == "unknown" for one in found.lines)
    return found.stops, unknowns, {id: one["answer"] for id, one in found.signable().items()}


def before(plan: Plan, revision: Revision) -> Before:
    """What is open in the check of a revision."""
    try:
        stops, unknowns, answers = _lines(revision.document)
    except Refused as refused:
        return Before(0, 0, 0, f"no check: {refused.faults[0].problem}")
    signed = {id: said["answer"] for id, (said, _) in signed_lines(plan).items()}
    return Before(stops, unknowns, sum(signed.get(id) != answer for id, answer in answers.items()))

"""The search for the best rigs, here or on a cluster where one was named."""

from collections.abc import Iterator
from concurrent.futures import Executor
from contextlib import contextmanager

from rigging.document import Plan as Document
from rigging.quantities.faults import refuse
from rigging.quantities.progress import Tell, silent
from rigging.quantities.units import Wording
from rigging.telling.sheet.rigs import RigsReport, rigs_report


def rigs_by(
    cluster: str, plan: Document, without: str | None, people: int | None, no_good: str | None, one_more: str | None, say: Wording, tell: Tell = silent
) -> RigsReport:  # fmt: skip
    """The best rigs told, worked out by a cluster's scheduler at an address ("": here)."""
    with _executor(cluster) as executor:
        return rigs_report(plan, without, people, no_good, one_more, say, tell, executor)


@contextmanager
def _executor(cluster: str) -> Iterator[Executor | None]:
    if not cluster:
        yield None
        return
    try:
        # Whoever names a cluster has its package installed; nobody else needs it.
        from distributed import Client
    except ImportError as error:
        raise refuse(
            "OUTRIGGER_CLUSTER", "the package `distributed` is not installed", "install it, or leave the setting out"
        ) from error
    with Client(cluster, timeout=10) as client:  # type: ignore[no-untyped-call]
        yield client.get_executor()

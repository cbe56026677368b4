"""What columns mean that no head tells: asked once of a team, and known from then on for every table with the same head."""

import hashlib
import json
from collections.abc import Callable
from dataclasses import replace

from accounts.models import Team

from rigging.files.reading import FileRead, FileSettings
from survey.models import ColumnsKnown


def read(team: Team, said: FileSettings, reads: Callable[[FileSettings], FileRead]) -> FileRead:
    """A file read with what was said of it, and with what was said of such tables before; what was said of one that could be read is kept."""
    found = reads(said)
    if not found.columns:
        return found
    head = _head(found)
    if said.columns or said.units:
        if not any(ask.setting.partition(".")[0] in ("columns", "units") for ask in found.asks):
            kept = {"columns": said.columns, "units": said.units}
            ColumnsKnown.objects.update_or_create(team=team, head=head, defaults=kept)
        return found
    known = ColumnsKnown.objects.filter(team=team, head=head).first()
    if known is None:
        return found
    again = reads(said.model_copy(update={"columns": known.columns, "units": known.units}))
    return replace(
        again, understood=["its columns as somebody of your team said of such a table before", *again.understood]
    )


def _head(found: FileRead) -> str:
    return hashlib.sha256(json.dumps([one.name for one in found.columns]).encode()).hexdigest()

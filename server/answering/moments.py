"""Moments that a device tells: with their zone, of this century, and from then on in UTC, so that what is read back is what was sealed."""

from datetime import UTC, datetime
from typing import Annotated

from pydantic import AfterValidator, AwareDatetime

EARLIEST, LATEST = datetime(2000, 1, 2, tzinfo=UTC), datetime(2099, 12, 30, tzinfo=UTC)


def _in_utc(moment: datetime) -> datetime:
    # Compared before it is turned: at the calendar's ends it could not be.
    if not EARLIEST <= moment <= LATEST:
        raise ValueError(f"the clock stands at {moment:%Y-%m-%d}: set it right")
    return moment.astimezone(UTC)


Moment = Annotated[AwareDatetime, AfterValidator(_in_utc)]

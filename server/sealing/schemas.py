"""What is said of seals."""

from pydantic import BaseModel


class VerifiedOut(BaseModel):
    """How many entries were read again, and what does not fit its seal."""

    entries: int
    broken: list[str]

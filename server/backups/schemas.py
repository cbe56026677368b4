"""What is said of backups."""

from datetime import datetime

from pydantic import BaseModel


class BackupOut(BaseModel):
    """The last backup: None where none was made."""

    name: str | None
    made_at: datetime | None
    bytes: int

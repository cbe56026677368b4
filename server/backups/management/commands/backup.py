"""Make a backup of everything, while the application runs."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser
from sealing import keys

from backups.backup import back_up


class Command(BaseCommand):
    help = "Makes one file of the database and the photographs as they are at this moment."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", nargs="?", type=Path, help="where to; among the last five if left out")

    def handle(self, *_args: Any, file: Path | None, **_options: Any) -> None:
        self.stdout.write(str(back_up(settings.VAR, file)))
        self.stderr.write(
            f"Signed by the key with the print {keys.print_of(keys.public_key())}: whoever restores it elsewhere compares that."
        )

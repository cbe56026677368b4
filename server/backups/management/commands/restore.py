"""Make an installation from a backup, in an empty folder."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from backups.backup import restore
from rigging.quantities.faults import Refused


class Command(BaseCommand):
    help = "Makes the installation in OUTRIGGER_VAR from a backup; every hash is checked first, and nothing is written over."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--print", dest="key_print", help="of the key of the installation that the backup is from")

    def handle(self, *_args: Any, file: Path, key_print: str | None, **_options: Any) -> None:
        try:
            manifest = restore(file, settings.VAR, key_print)
        except Refused as refused:
            raise CommandError(
                "; ".join(f"{one.path}: {one.problem}; {one.right}" for one in refused.faults)
            ) from refused
        connection.settings_dict["NAME"] = settings.VAR / "outrigger.sqlite3"
        call_command("migrate", verbosity=0)
        self.stdout.write(
            f"Restored as of {manifest.made_at:%Y-%m-%d %H:%M} UTC: {manifest.plans} plans, {manifest.entries} log entries, every hash fits."
        )

"""Check every hash of every plan's revisions and log."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError
from operations.models import LogEntry
from plans.models import Plan

from sealing import heads
from sealing.seals import broken_seals


class Command(BaseCommand):
    help = "Recomputes the hash chain of every log and the hash of every revision; fails on the first change found."
    requires_system_checks: list[str] = []

    def handle(self, *_args: Any, **_options: Any) -> None:
        broken = [line for plan in Plan.objects.all() for line in broken_seals(plan)] + list(heads.gone())
        if broken:
            raise CommandError("\n".join(broken))
        self.stdout.write(f"{Plan.objects.count()} plans, {LogEntry.objects.count()} log entries: every hash fits.")

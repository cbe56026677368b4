"""What the operations app listens to."""

from typing import Any

from django.apps import AppConfig


class OperationsConfig(AppConfig):
    name = "operations"

    def ready(self) -> None:
        from plans.models import revised

        def follow(plan: Any, revision: Any, author: Any, **_more: Any) -> None:
            # The engine is loaded where a plan is saved, not by every command.
            from operations.runs import follow_plan

            follow_plan(plan, revision, author)

        revised.connect(follow, weak=False)

"""What the operations app listens to."""

from typing import Any

from django.apps import AppConfig


class OperationsConfig(AppConfig):
    name = "operations"

    def ready(self) -> None:
        from plans.services import revised, saving

        def follow(plan: Any, revision: Any, author: Any, **_more: Any) -> None:
            # The engine is loaded where a plan is saved, not by every command.
            from operations.following import follow_plan

            follow_plan(plan, revision, author)

        def ahead(plan: Any, document: Any, **_more: Any) -> None:
            from operations.composing import composed_ahead

            composed_ahead(plan, document)

        revised.connect(follow, weak=False)
        saving.connect(ahead, weak=False)

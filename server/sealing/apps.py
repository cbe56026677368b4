"""Every plan that is written to gets its head before the writing is settled, whoever writes."""

from typing import Any

from django.apps import AppConfig
from django.db.models.signals import post_save


class SealingConfig(AppConfig):
    name = "sealing"

    def ready(self) -> None:
        from storing import writing

        from sealing import heads

        def saved(sender: Any, instance: Any, **_: Any) -> None:
            writing.touched(*heads.part_of(instance), instance)

        for model in heads.SEALED:
            post_save.connect(saved, sender=model, weak=False)
        writing.before_settling.append(heads.keep)

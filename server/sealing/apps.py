"""Every plan that is written to gets its head before the writing is settled."""

from django.apps import AppConfig


class SealingConfig(AppConfig):
    name = "sealing"

    def ready(self) -> None:
        from storing import writing

        from sealing import heads

        writing.before_settling.append(heads.keep)

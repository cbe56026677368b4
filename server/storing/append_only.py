"""Triggers that make a table append-only: the database itself refuses to change or delete a row."""

from django.db import migrations


def append_only(table: str) -> list[migrations.RunSQL]:
    """Migration operations for `table`."""
    return [
        migrations.RunSQL(
            f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
            f"BEGIN SELECT RAISE(ABORT, '{table} is append-only'); END;",
            f"DROP TRIGGER {table}_no_{verb.lower()};",
        )
        for verb in ("UPDATE", "DELETE")
    ]

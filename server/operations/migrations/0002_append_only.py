"""The database itself refuses to change or delete a row of operations_logentry."""

from django.db import migrations

TABLE = "operations_logentry"


def _trigger(verb):
    return migrations.RunSQL(
        f"CREATE TRIGGER {TABLE}_no_{verb.lower()} BEFORE {verb} ON {TABLE} "
        f"BEGIN SELECT RAISE(ABORT, '{TABLE} is append-only'); END;",
        f"DROP TRIGGER {TABLE}_no_{verb.lower()};",
    )


class Migration(migrations.Migration):
    dependencies = [("operations", "0001_initial")]
    operations = [_trigger("UPDATE"), _trigger("DELETE")]

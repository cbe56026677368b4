"""The database itself refuses to change or delete a row of plans_revision."""

from django.db import migrations

TABLE = "plans_revision"


def _trigger(verb):
    return migrations.RunSQL(
        f"CREATE TRIGGER {TABLE}_no_{verb.lower()} BEFORE {verb} ON {TABLE} "
        f"BEGIN SELECT RAISE(ABORT, '{TABLE} is append-only'); END;",
        f"DROP TRIGGER {TABLE}_no_{verb.lower()};",
    )


class Migration(migrations.Migration):
    dependencies = [("plans", "0001_initial")]
    operations = [_trigger("UPDATE"), _trigger("DELETE")]

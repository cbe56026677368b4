"""When a plan and a revision were made may be told. The tables stay as they are: made anew, they would lose what keeps them append-only."""

import storing.clock
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("plans", "0004_archived")]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterField("plan", "created_at", models.DateTimeField(default=storing.clock.now)),
                migrations.AlterField("revision", "saved_at", models.DateTimeField(default=storing.clock.now)),
            ]
        )
    ]

"""The two tables stay as they are: who may read a plan is kept beside the plans."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("handover", "0001_initial")]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[migrations.DeleteModel("HandedOver"), migrations.DeleteModel("ObserverLink")]
        )
    ]

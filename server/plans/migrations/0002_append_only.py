from django.db import migrations

from storing.append_only import append_only


class Migration(migrations.Migration):
    dependencies = [("plans", "0001_initial")]
    operations = append_only("plans_revision")

from django.db import migrations

from storing.append_only import append_only


class Migration(migrations.Migration):
    dependencies = [("operations", "0003_signature")]
    operations = append_only("operations_signature")

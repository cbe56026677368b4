from django.db import migrations

from storing.append_only import append_only


class Migration(migrations.Migration):
    dependencies = [("readings", "0001_initial")]
    operations = append_only("readings_readingblock")

"""Which plans were handed over to here, and who was let in to read one: tables that were made before, under the names that they had."""

import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("plans", "0002_append_only"),
        ("handover", "0002_kept_by_plans"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="HandedOver",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("key_print", models.CharField(max_length=40)),
                        ("made_at", models.DateTimeField()),
                        ("read_at", models.DateTimeField(default=django.utils.timezone.now)),
                        ("plan", models.OneToOneField(on_delete=django.db.models.deletion.PROTECT, related_name="handed_over", to="plans.plan")),
                        ("read_by", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL)),
                    ],
                    options={"db_table": "handover_handedover"},
                ),
                migrations.CreateModel(
                    name="ObserverLink",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("name", models.CharField(max_length=60)),
                        ("token_sha256", models.CharField(max_length=64, unique=True)),
                        ("made_at", models.DateTimeField(default=django.utils.timezone.now)),
                        ("ends_at", models.DateTimeField()),
                        ("made_by", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL)),
                        ("plan", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="observer_links", to="plans.plan")),
                        ("reader", models.OneToOneField(null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL)),
                    ],
                    options={"db_table": "handover_observerlink"},
                ),
            ]
        )
    ]

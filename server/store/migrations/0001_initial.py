from django.db import migrations, models


class Migration(migrations.Migration):
    """Takes over the table that was of the app "derived"."""

    initial = True
    dependencies = [("derived", "0002_store_of_its_own")]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="Blob",
                    fields=[
                        ("name", models.CharField(max_length=120, primary_key=True, serialize=False)),
                        ("size", models.PositiveBigIntegerField()),
                        ("used", models.DateTimeField(auto_now_add=True)),
                    ],
                    options={"indexes": [models.Index(fields=["used"], name="derived_blo_used_df3144_idx")]},
                )
            ]
        ),
        migrations.RenameIndex("Blob", new_name="blob_used", old_name="derived_blo_used_df3144_idx"),
    ]

from django.db import migrations


class Migration(migrations.Migration):
    """The book of the store became an app of its own."""

    dependencies = [("derived", "0001_initial")]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[migrations.AlterModelTable("Blob", "store_blob")],
            state_operations=[migrations.DeleteModel("Blob")],
        )
    ]

"""What counts is when something was last brought in or put to use, not when that was first done."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("sites", "0003_brought")]

    operations = [migrations.RenameField(model_name="brought", old_name="created", new_name="used")]

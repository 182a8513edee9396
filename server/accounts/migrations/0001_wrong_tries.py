"""Wrong tries to sign in are counted."""

from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    dependencies: list = []

    operations = [
        migrations.CreateModel(
            name="WrongTries",
            fields=[
                ("of", models.CharField(max_length=64, primary_key=True, serialize=False)),
                ("number", models.PositiveIntegerField(default=0)),
                ("latest", models.DateTimeField()),
            ],
        ),
    ]

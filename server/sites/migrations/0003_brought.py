"""Whose the files are that sites use: until now, whoever knew a hash could."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

from cenote.site.references import BROUGHT

# Where a document of any shape so far names what was brought in: the name of the field, and the family.
_FIELDS = {"mesh": "mesh", "map": "heights", "maps": "maps"}


def named(value):
    """Pairs of family and hash in a stored document."""
    if isinstance(value, dict):
        for name, one in value.items():
            if name == "value" and isinstance(value.get("path"), str):
                # A step that replaces the hash itself.
                name = value["path"].rpartition("/")[2]
            if isinstance(one, str) and len(one) == 64 and _FIELDS.get(name) in BROUGHT:
                yield _FIELDS[name], one
            else:
                yield from named(one)
    elif isinstance(value, list):
        for one in value:
            yield from named(one)


def hand_over(apps, schema_editor):
    """What a site, or a step of its history, uses is its owner's."""
    Site, Edit, MeshImport, Brought = (apps.get_model("sites", name) for name in ("Site", "Edit", "MeshImport", "Brought"))
    held = set()
    for site in Site.objects.all():
        held |= {(site.owner_id, *one) for one in named(site.document)}
    for edit in Edit.objects.select_related("site").iterator():
        held |= {(edit.site.owner_id, *one) for one in (*named(edit.forward), *named(edit.backward))}
    held |= {(one.site.owner_id, "mesh", one.mesh) for one in MeshImport.objects.select_related("site") if one.mesh}
    Brought.objects.bulk_create(
        [Brought(owner_id=owner, family=family, digest=digest) for owner, family, digest in sorted(held)]
    )


class Migration(migrations.Migration):
    dependencies = [
        ("sites", "0002_answered"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name="meshimport",
            name="bytes",
            field=models.PositiveBigIntegerField(default=0),
        ),
        migrations.AlterField(
            model_name="meshimport",
            name="upload",
            field=models.CharField(blank=True, max_length=200),
        ),
        migrations.CreateModel(
            name="Brought",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("family", models.CharField(max_length=12)),
                ("digest", models.CharField(max_length=64)),
                ("size", models.PositiveBigIntegerField(default=0)),
                ("created", models.DateTimeField(auto_now_add=True)),
                (
                    "owner",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="brought",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "indexes": [models.Index(fields=["family", "digest"], name="brought_by_hash")],
                "constraints": [
                    models.UniqueConstraint(fields=("owner", "family", "digest"), name="brought_once"),
                ],
            },
        ),
        migrations.RunPython(hand_over, migrations.RunPython.noop),
    ]

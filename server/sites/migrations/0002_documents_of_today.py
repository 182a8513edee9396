"""Brings stored documents to their present shape: layers on several surfaces, zones, what is placed by hand."""

from django.db import migrations
from pydantic import ValidationError

from cenote.site.document import SiteDocument


def bring_up(apps, schema_editor):
    """Read each document as the core does and write it with all that it now has; one that cannot be read stays as it is."""
    for site in apps.get_model("sites", "Site").objects.all().iterator():
        try:
            site.document = SiteDocument.model_validate(site.document).model_dump(mode="json")
        except ValidationError:
            continue
        site.save(update_fields=["document"])


class Migration(migrations.Migration):
    dependencies = [("sites", "0001_initial")]

    operations = [migrations.RunPython(bring_up, migrations.RunPython.noop)]

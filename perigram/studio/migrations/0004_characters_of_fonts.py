from typing import Any

from django.db import migrations, models

from perigram.core.lettering.fonts import Font


def read_fonts(apps: Any, _: Any) -> None:
    for upload in apps.get_model("studio", "FontUpload").objects.iterator():
        upload.covers = Font(bytes(upload.data)).covers
        upload.save(update_fields=["covers"])


class Migration(migrations.Migration):
    dependencies = [("studio", "0003_fonts_and_habits")]

    operations = [
        migrations.AddField("fontupload", "covers", models.TextField(default="")),
        migrations.RunPython(read_fonts, migrations.RunPython.noop),
    ]

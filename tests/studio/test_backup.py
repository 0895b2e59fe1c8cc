"""What bin/backup keeps, bin/restore puts back."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import connection

from perigram.library import load_design
from perigram.studio import services
from perigram.studio.models import PictureFile, StoredDesign

pytestmark = pytest.mark.django_db(transaction=True)


def ran(program: str, file: Path) -> subprocess.CompletedProcess[str]:
    database: dict[str, Any] = connection.settings_dict
    named = {
        "PERIGRAM_DB_NAME": database["NAME"],
        "PERIGRAM_DB_HOST": database["HOST"],
        "PERIGRAM_DB_PORT": str(database["PORT"]),
        "PERIGRAM_DB_USER": database["USER"],
        "PERIGRAM_DB_PASSWORD": database["PASSWORD"],
    }
    return subprocess.run(
        [settings.BASE_DIR / "bin" / program, file],
        env={**os.environ, **named},
        capture_output=True,
        text=True,
        check=False,
    )


def test_a_shop_comes_back_as_it_was(tmp_path: Path) -> None:
    owner = get_user_model().objects.create_user("teal")
    design = load_design(settings.BASE_DIR / "demo" / "weekend-shirt.perigram.json")
    stored = services.create(owner, design)
    picture = PictureFile.objects.get(owner=owner).svg
    kept = tmp_path / "shop.sql.gz"
    made = ran("backup", kept)
    assert made.returncode == 0, made.stderr

    StoredDesign.objects.all().delete()
    services.create(owner, design.model_copy(update={"name": "Made afterwards"}))
    cut = tmp_path / "cut.sql.gz"
    cut.write_bytes(kept.read_bytes()[:-200])
    refused = ran("restore", cut)
    assert refused.returncode == 1
    assert "nothing was changed" in refused.stderr
    assert StoredDesign.objects.get().name == "Made afterwards"

    back = ran("restore", kept)
    assert back.returncode == 0, back.stderr
    found = StoredDesign.objects.get()
    assert (found.id, found.body) == (stored.id, stored.body)
    assert PictureFile.objects.get(owner=owner).svg == picture

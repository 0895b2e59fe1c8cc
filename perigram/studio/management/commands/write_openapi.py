"""Write the API's description, from which the interface's types are made."""

import json
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from perigram.studio.api import api


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        path = Path(settings.BASE_DIR) / "web" / "src" / "api" / "openapi.json"
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True) + "\n")
        self.stdout.write(str(path))

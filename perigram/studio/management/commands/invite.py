"""Print the address at which one person can make an account within 14 days."""

from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from perigram.studio.accounts import invite


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        origin = (settings.CSRF_TRUSTED_ORIGINS or ["http://127.0.0.1:8000"])[0]
        self.stdout.write(f"{origin}/join/{invite().code}")

"""Load the demo shop if it is not there."""

from typing import Any

from django.core.management.base import BaseCommand

from perigram.studio.demo import load_demo_shop


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write(f"Demo shop: {load_demo_shop().get_username()}")

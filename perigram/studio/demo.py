"""The demo shop: Saltmarsh Works, with its designs on the shelf."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.auth.models import AbstractBaseUser

from perigram.library import load_design
from perigram.studio import services
from perigram.studio.models import Habits

DEMO_USER = "Saltmarsh Works"
#: In the order they were made; the last is first on the shelf.
DEMO_DESIGNS = (
    "regatta-stack",
    "hull-decal",
    "crate-stencil",
    "coachs-gift",
    "hull-badge",
    "crew-tee",
    "boathouse-sign",
    "weekend-shirt",
)


def load_demo_shop() -> AbstractBaseUser:
    """The demo shop's account, made with its designs if it is not there yet."""
    users = get_user_model().objects
    owner = users.filter(username=DEMO_USER).first()
    if owner is not None:
        return owner
    owner = users.create_user(DEMO_USER)
    designs = [load_design(settings.BASE_DIR / "demo" / f"{name}.perigram.json") for name in DEMO_DESIGNS]
    for design in designs:
        services.create(owner, design)
    # On its shelf is what its designs are made of, each once.
    shelf = {one.name: one.model_dump(mode="json") for design in designs for one in design.materials}
    Habits.objects.update_or_create(owner=owner, defaults={"materials": list(shelf.values())})
    return owner

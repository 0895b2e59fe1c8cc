"""The demo shop: Saltmarsh Works, with its designs on the shelf."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.auth.models import AbstractBaseUser

from perigram.core.recipe.design import Design
from perigram.core.recipe.materials import STARTERS
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


#: What a new shop finds on its shelf, to take apart.
FIRST_DESIGN = "weekend-shirt"


def furnish(owner: AbstractBaseUser) -> None:
    """Put on a new shop's shelf what everybody starts from: materials of the common kinds, and a design."""
    services.create(owner, _demo_design(FIRST_DESIGN))
    shelf = [one.model_dump(mode="json") for one in STARTERS]
    Habits.objects.update_or_create(owner=owner, defaults={"materials": shelf})


def _demo_design(name: str) -> Design:
    return load_design(settings.BASE_DIR / "demo" / f"{name}.perigram.json")


def load_demo_shop() -> AbstractBaseUser:
    """The demo shop's account, made with its designs if it is not there yet."""
    users = get_user_model().objects
    owner = users.filter(username=DEMO_USER).first()
    if owner is not None:
        return owner
    owner = users.create_user(DEMO_USER)
    designs = [_demo_design(name) for name in DEMO_DESIGNS]
    for design in designs:
        services.create(owner, design)
    # On its shelf is what its designs are made of, each once.
    shelf = {one.name: one.model_dump(mode="json") for design in designs for one in design.materials}
    Habits.objects.update_or_create(
        owner=owner, defaults={"materials": list(shelf.values()), "machine": "sandpiper"}
    )
    return owner

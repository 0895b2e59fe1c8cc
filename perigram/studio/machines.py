"""The machines of a shop, as its owner says they are."""

from __future__ import annotations

from django.contrib.auth.models import AbstractBaseUser

from perigram.core.sheet.machine import STARTERS, Machine
from perigram.studio.models import Habits


def machines_of(owner: AbstractBaseUser) -> tuple[list[Machine], str]:
    """The shop's machines, and which one is used; made-up ones until it says what it has."""
    habits = Habits.objects.filter(owner=owner).first()
    own = [Machine.model_validate(one) for one in habits.machines] if habits else []
    chosen = habits.machine if habits else ""
    machines = own or list(STARTERS)
    return machines, chosen if any(one.id == chosen for one in machines) else machines[0].id


def is_known(owner: AbstractBaseUser) -> bool:
    """Whether the shop has said what it cuts with."""
    return Habits.objects.filter(owner=owner).exclude(machine="").exists()


def machine_of(owner: AbstractBaseUser) -> Machine:
    """The machine that is used."""
    machines, chosen = machines_of(owner)
    return next(one for one in machines if one.id == chosen)

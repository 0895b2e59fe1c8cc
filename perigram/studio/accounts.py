"""Who may come in: making an account, by invitation or openly, and changing its password."""

from __future__ import annotations

import secrets
from datetime import timedelta

from django.conf import settings
from django.contrib.auth import get_user_model, password_validation
from django.contrib.auth.models import AbstractBaseUser
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.utils import timezone

from perigram.studio.demo import furnish
from perigram.studio.models import Invitation
from perigram.studio.problems import Problem

#: An invitation that nobody took up is void after this long.
_GOOD_FOR = timedelta(days=14)


def invite() -> Invitation:
    """An invitation for one new account."""
    return Invitation.objects.create(code=secrets.token_urlsafe(18))


def make_account(name: str, password: str, invitation: str) -> AbstractBaseUser:
    """A new account, its shop with materials on the shelf and one design to take apart.

    Raises:
        Problem: where accounts are not made here, the invitation is not good, the name is taken or the
            password too weak.
    """
    name = name.strip()
    if settings.SIGN_UP == "closed":
        raise Problem(403, "By the shop's owner", "Accounts are made by whoever runs this server. Ask there.")
    if not 1 <= len(name) <= 60:
        raise Problem(422, "Name needed", "Choose a name of up to 60 letters.")
    user = get_user_model()(username=name)
    _check(password, user)
    with transaction.atomic():
        if settings.SIGN_UP == "invitation":
            _take_up(invitation)
        user.set_password(password)
        try:
            with transaction.atomic():
                user.save()
        except IntegrityError as error:
            raise Problem(422, "Taken", f"There is a “{name}” here already. Choose another name.") from error
        furnish(user)
    return user


def change_password(user: AbstractBaseUser, old: str, new: str) -> None:
    """Another password for somebody who knows the one so far.

    Raises:
        Problem: where it is not the one so far, or the new one too weak.
    """
    if not user.check_password(old):
        raise Problem(422, "Not changed", "That is not the password so far.")
    _check(new, user)
    user.set_password(new)
    user.save(update_fields=["password"])


def _check(password: str, user: AbstractBaseUser) -> None:
    try:
        password_validation.validate_password(password, user)
    except ValidationError as error:
        raise Problem(422, "Password too weak", " ".join(error.messages)) from error


def _take_up(code: str) -> None:
    """Use an invitation up; two who come with the same one at once cannot both."""
    open_ = Invitation.objects.filter(code=code, taken=None, made__gte=timezone.now() - _GOOD_FOR)
    if not open_.update(taken=timezone.now()):
        raise Problem(
            403, "Invitation needed", "This invitation is not good, or not any more. Ask for a new one."
        )

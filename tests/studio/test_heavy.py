"""Files that take too much: given up with a sentence, and nobody else waits for them."""

from __future__ import annotations

import math
import os
import time
from threading import Thread
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.contrib.auth.models import AbstractBaseUser

from perigram.core.errors import PerigramError
from perigram.studio import heavy
from perigram.studio.problems import Problem

pytestmark = pytest.mark.django_db


@pytest.fixture
def owner() -> AbstractBaseUser:
    return get_user_model().objects.create_user("teal")


@pytest.fixture
def bounded(settings: Any) -> Any:
    """Readers of this test's own bounds."""
    settings.READERS, settings.READING_SECONDS, settings.READING_BYTES = 2, 20.0, 300_000_000
    heavy._pool.cache_clear()
    yield settings
    heavy._pool().stop()
    heavy._pool().join()
    heavy._pool.cache_clear()


def test_what_takes_too_long_or_too_much_is_given_up(owner: AbstractBaseUser, bounded: Any) -> None:
    assert heavy.read(owner, "“sum”", sum, (1, 2)) == 3
    with pytest.raises(PerigramError, match="“big” takes too much memory"):
        heavy.read(owner, "“big”", bytearray, 2_000_000_000)
    # A reader that dies takes nothing with it.
    with pytest.raises(PerigramError, match="“broken” takes too much"):
        heavy.read(owner, "“broken”", os._exit, 3)
    assert heavy.read(owner, "“sum”", sum, (1, 2)) == 3
    bounded.READING_SECONDS = 1.0
    began = time.monotonic()
    for slow, given in ((time.sleep, 60), (math.factorial, 3_000_000)):
        with pytest.raises(PerigramError, match=r"“slow” takes more than 1 seconds"):
            heavy.read(owner, "“slow”", slow, given)
    assert time.monotonic() - began < 30.0


def test_a_shop_has_a_few_files_read_at_a_time_and_another_its_own(
    owner: AbstractBaseUser, bounded: Any
) -> None:
    heavy.read(owner, "“sum”", sum, (1, 2))
    waiting = [Thread(target=heavy.read, args=(owner, "“slow”", time.sleep, 2.0)) for _ in range(2)]
    for one in waiting:
        one.start()
    time.sleep(0.5)
    with pytest.raises(Problem, match="Try again in a moment") as refused:
        heavy.read(owner, "“third”", sum, (1, 2))
    assert refused.value.status == 429
    # What was taken before is not refused: a design that shows it would lose it.
    assert heavy.read_again("“known”", sum, (1, 2)) == 3
    other = get_user_model().objects.create_user("finch")
    assert heavy.read(other, "“sum”", sum, (1, 2)) == 3
    for one in waiting:
        one.join()
    assert heavy.read(owner, "“sum”", sum, (1, 2)) == 3

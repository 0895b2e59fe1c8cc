"""What all tests share."""

from __future__ import annotations

import os

from hypothesis import HealthCheck, Phase, settings

# The browser tests run Playwright's event loop in the thread that talks to the database.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

# The same examples every time, and no deadline: timing is judged in benchmarks/, not here.
settings.register_profile(
    "perigram",
    deadline=None,
    derandomize=True,
    max_examples=60,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large],
)
# For faults put in on purpose: that an example fails is enough, the smallest is not looked for.
settings.register_profile(
    "failing", settings.get_profile("perigram"), phases=[Phase.explicit, Phase.generate]
)
settings.load_profile("perigram")


def pytest_configure() -> None:
    # Hashes that are slow on purpose would take a quarter of the time of tests that sign in.
    from django.conf import settings as django_settings

    django_settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

"""The API under /api, and the interface everywhere else."""

from django.urls import path, re_path

from perigram.studio.api import api
from perigram.studio.headers import interface

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/).*$", interface),
]

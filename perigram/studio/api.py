"""The API: thin, each call one sentence of what the interface needs."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any
from uuid import UUID

from django.conf import settings
from django.contrib.auth import authenticate, get_user_model, login, logout, update_session_auth_hash
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import CsrfViewMiddleware
from django.shortcuts import get_object_or_404
from ninja import File, Query, Status, UploadedFile
from ninja.security import django_auth

from perigram.core.art.encoding import svg_text
from perigram.core.art.svg import MOST_BYTES
from perigram.core.formats.bundle import Format, cut_files, zipped
from perigram.core.formats.page import plain_name
from perigram.core.formats.svg import path_data
from perigram.core.recipe.design import Design, ranges, read_design
from perigram.core.recipe.kinds import Kind
from perigram.core.recipe.lines import KINDS
from perigram.core.recipe.materials import FINISHES, FRESH, MATERIAL_KINDS, STARTERS
from perigram.studio import accounts, problems, schemas, services
from perigram.studio.bench_api import router as bench
from perigram.studio.cut_api import router as cutting
from perigram.studio.demo import DEMO_USER
from perigram.studio.lettering_api import router as lettering
from perigram.studio.making_api import router as making
from perigram.studio.models import Habits, PictureFile, StoredDesign

api = problems.Api(title="Perigram", version="1", auth=django_auth, docs_url=None, parser=problems.Reader())
problems.install(api)
api.add_router("", bench)
api.add_router("", lettering)
api.add_router("", making)
api.add_router("", cutting)


_BACKEND = "django.contrib.auth.backends.ModelBackend"


def _require_csrf(request: HttpRequest) -> None:
    """Sign-in calls carry no session yet, so their CSRF token is checked here."""
    guard = CsrfViewMiddleware(lambda _: HttpResponse())
    guard.process_request(request)
    if guard.process_view(request, lambda _: None, (), {}) is not None:
        raise problems.Problem(403, "Refused", "This page has grown old. Load it again and sign in.")


@api.get("/session", response=schemas.Session, auth=None)
def session(request: HttpRequest) -> Any:
    user = request.user
    name = user.get_username() if user.is_authenticated else None
    return {"user": name, "demo": settings.DEMO, "sign_up": settings.SIGN_UP}


@api.post("/account", response=schemas.Session, auth=None)
def make_account(request: HttpRequest, body: schemas.NewAccount) -> Any:
    _require_csrf(request)
    user = accounts.make_account(body.user, body.password, body.invitation)
    login(request, user, backend=_BACKEND)
    return session(request)


@api.put("/account/password", response=schemas.Session)
def change_password(request: HttpRequest, body: schemas.NewPassword) -> Any:
    if settings.DEMO and request.user.get_username() == DEMO_USER:
        raise problems.Problem(403, "Not here", "The demo shop has no password.")
    accounts.change_password(request.user, body.old, body.new)
    # Whoever else is signed in with the old one is signed out; this session goes on.
    update_session_auth_hash(request, request.user)
    return session(request)


@api.post("/session", response=schemas.Session, auth=None)
def sign_in(request: HttpRequest, body: schemas.SignIn) -> Any:
    _require_csrf(request)
    user = authenticate(request, username=body.user, password=body.password)
    if getattr(request, "axes_locked_out", False):
        minutes = round(settings.AXES_COOLOFF_TIME.total_seconds() / 60)
        text = f"Too many wrong passwords for that name from here. Try again in {minutes} minutes."
        raise problems.Problem(429, "Wait a little", text)
    if user is None:
        raise problems.Problem(401, "Not signed in", "That name and password do not go together.")
    login(request, user)
    return session(request)


@api.post("/session/demo", response=schemas.Session, auth=None)
def sign_in_to_demo(request: HttpRequest) -> Any:
    _require_csrf(request)
    if not settings.DEMO:
        raise problems.Problem(404, "Not here", "There is no demo shop on this server.")
    user = get_user_model().objects.get(username=DEMO_USER)
    login(request, user, backend=_BACKEND)
    return session(request)


@api.delete("/session", response=schemas.Session)
def sign_out(request: HttpRequest) -> Any:
    logout(request)
    return session(request)


@api.get("/designs", response=list[schemas.ShelfEntry])
def shelf(request: HttpRequest) -> Any:
    return StoredDesign.objects.filter(owner=request.user, removed=None).order_by("-updated").defer("body")


@api.get("/designs/removed", response=list[schemas.RemovedEntry])
def removed_designs(request: HttpRequest) -> Any:
    """What was taken from the shelf and can still be brought back, latest first."""
    return services.removed_designs(request.user)


@api.post("/designs", response=schemas.DesignState)
def add_design(request: HttpRequest, body: Design) -> Any:
    return _state(services.create(request.user, body))


@api.get("/designs/{design_id}", response=schemas.DesignState)
def open_design(request: HttpRequest, design_id: UUID) -> Any:
    return _state(services.find(request.user, design_id))


@api.put(
    "/designs/{design_id}", response={200: schemas.Saved, 409: schemas.ProblemOut, 410: schemas.ProblemOut}
)
def save_design(request: HttpRequest, design_id: UUID, body: schemas.SaveIn) -> Any:
    return services.save(request.user, design_id, body.base, body.design)


@api.patch("/designs/{design_id}", response=schemas.Saved)
def rename_design(request: HttpRequest, design_id: UUID, body: schemas.NewName) -> Any:
    name = body.name.strip()
    if not 1 <= len(name) <= 120:
        raise problems.Problem(422, "Name needed", "Give the design a name of up to 120 letters.")
    return services.rename(services.find(request.user, design_id), name)


@api.post("/designs/{design_id}/copy", response=schemas.ShelfEntry)
def copy_design(request: HttpRequest, design_id: UUID) -> Any:
    return services.copy(services.find(request.user, design_id))


@api.delete("/designs/{design_id}", response={204: None})
def remove_design(request: HttpRequest, design_id: UUID) -> Any:
    services.remove(services.find(request.user, design_id))
    return Status(204, None)


@api.post("/designs/{design_id}/bring-back", response={204: None})
def bring_design_back(request: HttpRequest, design_id: UUID) -> Any:
    services.bring_back(services.find(request.user, design_id))
    return Status(204, None)


@api.get("/designs/{design_id}/states", response=list[schemas.PastState])
def past_states(request: HttpRequest, design_id: UUID) -> Any:
    return services.past_states(services.find(request.user, design_id))


@api.get("/designs/{design_id}/states/{state_id}", response=schemas.DesignState)
def past_state(request: HttpRequest, design_id: UUID, state_id: int) -> Any:
    """A design as it was in one of its states; bringing it back is saving it again."""
    stored = services.find(request.user, design_id)
    state = get_object_or_404(stored.revisions, id=state_id)
    return {**_state(stored), "design": read_design(state.body)}


@api.put("/designs/{design_id}/states/{state_id}", response=schemas.PastState)
def name_state(request: HttpRequest, design_id: UUID, state_id: int, body: schemas.StateName) -> Any:
    return services.name_state(services.find(request.user, design_id), state_id, body.name)


@api.get(
    "/designs/{design_id}/cut-files", response={200: bytes, 409: schemas.ProblemOut, 422: schemas.ProblemOut}
)
def export(
    request: HttpRequest, design_id: UUID, revision: Query[int], format: Query[list[Format]]
) -> HttpResponse:
    """A zip of the cut files of one revision of a design: refused where another is stored by now."""
    design = services.at_revision(services.find(request.user, design_id), revision)
    content = zipped(cut_files(design.name, services.prove(request.user, design).to_cut(), format))
    response = HttpResponse(content, content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="{plain_name(design.name)}.zip"'
    return response


@api.get("/habits", response=schemas.HabitsOut)
def habits(request: HttpRequest) -> Any:
    return Habits.objects.get_or_create(owner=request.user)[0]


@api.put("/habits", response=schemas.HabitsOut)
def change_habits(request: HttpRequest, body: schemas.HabitsOut) -> Any:
    kept = {"unit": body.unit, "fonts": [font[:80] for font in body.fonts[:12]]}
    return Habits.objects.update_or_create(owner=request.user, defaults=kept)[0]


@api.post("/pictures", response=schemas.PictureOut)
def bring_in_picture(request: HttpRequest, file: File[UploadedFile]) -> Any:
    name = (file.name or "picture").rsplit(".", 1)[0][:120] or "picture"
    if (file.size or 0) > MOST_BYTES:
        raise problems.Problem(
            422,
            "Too large",
            f"{file.name} is {(file.size or 0) / 1e6:.1f} MB; drawings up to "
            f"{MOST_BYTES / 1e6:.0f} MB can be read. Save it with fewer nodes, or without embedded pictures.",
        )
    svg = svg_text(file.read(), MOST_BYTES)
    return _picture(request, services.store_picture(request.user, name, svg))


@api.get("/pictures/{digest}", response=schemas.PictureOut)
def picture(request: HttpRequest, digest: str) -> Any:
    return _picture(request, digest)


@api.get("/kinds", response=schemas.BasicsOut)
def kinds(request: HttpRequest) -> Any:
    return {
        "kinds": [_kind(kind) for kind in KINDS.values()],
        "ranges": ranges(),
        "material_kinds": {name: asdict(kind) for name, kind in MATERIAL_KINDS.items()},
        "finishes": {name: asdict(finish) for name, finish in FINISHES.items()},
        "blank": Design(),
        "first_material": STARTERS[0],
        "fresh_material": FRESH,
    }


def _kind(kind: Kind) -> dict[str, Any]:
    return {
        "id": kind.id,
        "name": kind.name,
        "sentence": kind.sentence,
        "words": kind.words,
        "results": kind.results,
        "replaces": kind.replaces,
        "each": kind.each,
        "not_cut": kind.not_cut,
        "shapes": kind.shapes,
        "swaps": kind.swaps,
        "slots": [
            {"field": name, **field.json_schema_extra}
            for name, field in kind.model.model_fields.items()
            if isinstance(field.json_schema_extra, dict) and "slot" in field.json_schema_extra
        ],
        "blank": kind.model(id="new").model_dump(mode="json", exclude={"id"}),
    }


def _state(stored: StoredDesign) -> dict[str, Any]:
    return {"id": stored.id, "revision": stored.revision, "design": read_design(stored.body)}


def _picture(request: HttpRequest, digest: str) -> dict[str, Any]:
    drawing = services.picture_drawing(request.user, digest)
    box, width, height = services.picture_size(request.user, digest)
    return {
        "id": digest,
        "name": PictureFile.objects.get(owner=request.user, digest=digest).name,
        "width": width,
        "height": height,
        "box": box,
        "parts": [{"name": part.name, "d": path_data(part.region, 2)} for part in drawing.parts],
        "notes": drawing.notes,
    }

"""The part of the API that speaks with the cutter: sending sheets, following them, comparing what was cut."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from typing import Any, Literal
from uuid import UUID

import numpy as np
from django.conf import settings
from django.contrib.auth.models import AbstractBaseUser
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Query, Router, Status

from perigram.core.errors import PerigramError
from perigram.core.formats.bundle import sheet_files, sheet_hpgl, sheet_names
from perigram.core.formats.hpgl import TOLERANCE
from perigram.core.formats.page import plain_name
from perigram.core.formats.svg import polyline_data
from perigram.core.recipe.design import Design
from perigram.core.sheet.blade import led
from perigram.core.sheet.compare import compare
from perigram.studio import cutter, making_schemas, nesting, services
from perigram.studio.machines import machine_of
from perigram.studio.models import CutJob

router = Router()

#: Jobs of a design that are told of.
_JOBS_SHOWN = 8


@router.post("/designs/{design_id}/cut", response=making_schemas.JobOut)
def cut(request: HttpRequest, design_id: UUID, body: making_schemas.CutIn) -> Any:
    """Have one sheet of one revision cut, sent over the network or taken from the memory stick."""
    stored = services.find(request.user, design_id)
    design = services.at_revision(stored, body.revision)
    laid, _ = nesting.laid(request.user, design)
    if body.sheet >= len(laid):
        raise PerigramError("There is no such sheet any more. Look at the sheets again.")
    sheet, machine = laid[body.sheet], machine_of(request.user)
    file = sheet_names(design.name, laid, "hpgl")[body.sheet]
    strokes = led(sheet.strokes(TOLERANCE), 0.0, machine.overcut)
    job = CutJob.objects.create(
        owner=request.user,
        design=stored,
        name=file.removesuffix(".hpgl")[:200],
        width=sheet.stock.width,
        length=sheet.used,
        outlines=[np.round(line, 4).tolist() for line in strokes],
        pulled=machine.blade > 0.0,
    )
    content = sheet_hpgl(sheet, machine)
    try:
        if body.by == "wire":
            cutter.send(str(job.id), job.name, content)
        else:
            on_stick = f"{_folder(request.user, design)}/{file}"
            _refuse_other(settings.STICK / on_stick, content)
            cutter.take_from_stick(str(job.id), on_stick)
    except PerigramError:
        job.delete()
        raise
    return _job(job)


@router.post("/designs/{design_id}/stick", response=making_schemas.StickOut)
def write_to_stick(request: HttpRequest, design_id: UUID, revision: Query[int]) -> Any:
    """Write all sheets of one revision to the memory stick, in a folder of the design's name."""
    design = services.at_revision(services.find(request.user, design_id), revision)
    laid, _ = nesting.laid(request.user, design)
    files = sheet_files(design.name, laid, machine_of(request.user))
    folder = _folder(request.user, design)
    _written(settings.STICK / folder, files)
    return {"folder": folder, "files": list(files)}


def _refuse_other(path: Path, content: bytes) -> None:
    """What was written before a change would be compared with what is wanted since."""
    if path.is_file() and path.read_bytes() != content:
        raise PerigramError(
            "The memory stick holds an earlier state of this sheet: write the sheets to it again."
        )


def _folder(owner: AbstractBaseUser, design: Design) -> str:
    """Where on the stick a design's sheets lie: shops share it."""
    return f"{plain_name(owner.get_username())}/{plain_name(design.name)}"


def _written(folder: Path, files: dict[str, bytes]) -> None:
    """Files in a folder, in place of those that were there."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for old in folder.iterdir():
            if old.is_file():
                old.unlink()
        for name, content in files.items():
            (folder / name).write_bytes(content)
    except OSError as error:
        raise PerigramError(
            f"The memory stick cannot be written to: {error.strerror}. Is it in, and is there room on it?"
        ) from error


@router.get("/designs/{design_id}/jobs", response=list[making_schemas.JobOut])
def jobs(request: HttpRequest, design_id: UUID) -> Any:
    """What of a design was sent to the cutter lately, newest first, and how it came out."""
    stored = services.find(request.user, design_id)
    return [_job(job) for job in stored.jobs.all()[:_JOBS_SHOWN]] if settings.CUTTER_PORT else []


@router.get("/designs/{design_id}/jobs/{job_id}", response=making_schemas.JobSeen)
def job(request: HttpRequest, design_id: UUID, job_id: UUID) -> Any:
    """One job: what is wanted, what was cut so far, and what was missed."""
    one = get_object_or_404(services.find(request.user, design_id).jobs, id=job_id)
    told = {} if one.found is not None else _told(one)
    shown = _job(one, told)
    lines = one.cut if one.cut is not None else _upright(told.get("cut", []), one)
    return {
        **shown,
        "width": one.width,
        "length": one.length,
        "wanted": polyline_data(np.array(line) for line in one.outlines),
        "cut": polyline_data(np.array(line) for line in lines),
        "missed": (one.found or {}).get("missed", []),
    }


@router.get("/cutter", response=making_schemas.CutterOut)
def about_cutter(request: HttpRequest) -> Any:
    """What the cutter says of itself."""
    return cutter.status()


@router.post("/cutter/blade", response=making_schemas.CutterOut)
def fit_blade(request: HttpRequest, body: making_schemas.BladeIn) -> Any:
    """Put a knife of another offset into the cutter."""
    return cutter.press(f"blade?offset={body.offset}")


@router.post("/cutter/{button}", response={204: None})
def press_button(request: HttpRequest, button: Literal["pause", "go-on", "load"]) -> Any:
    cutter.press(button)
    return Status(204, None)


def _told(job: CutJob) -> dict[str, Any]:
    try:
        return cutter.told(str(job.id))
    except cutter.NoCutter:
        return {}


def _job(job: CutJob, told: dict[str, Any] | None = None) -> dict[str, Any]:
    """A job as the cutter tells it; compared with its outlines once it is cut."""
    if told is None or job.found is not None:
        told = _told(job) if job.found is None else {"state": "done", "share": 1.0}
    if job.found is None and told.get("state") == "done":
        job.cut = _upright(told["cut"], job)
        wanted, lines = ([np.array(line) for line in lines] for lines in (job.outlines, job.cut))
        job.found = asdict(compare(wanted, lines, job.width))
        job.save(update_fields=["found", "cut"])
    return {
        "id": job.id,
        "name": job.name,
        "created": job.created,
        "state": told.get("state", "lost"),
        "share": told.get("share", 0.0),
        "found": job.found,
    }


def _upright(cut: list[list[list[float]]], job: CutJob) -> list[list[list[float]]]:
    """Lines as the cutter has them, y up, from the sheet's top left corner; without the pull before them."""
    lines = cut[1:] if job.pulled else cut
    return [np.round(np.array(line) * [1.0, -1.0] + [0.0, job.length], 3).tolist() for line in lines]

"""The part of the API that takes a design from plies to goods: sheets, their files, the press plan."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any, Literal
from uuid import UUID

import numpy as np
from django.conf import settings
from django.contrib.auth.models import AbstractBaseUser
from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Status

from perigram.core.errors import PerigramError
from perigram.core.formats.bundle import sheet_files, sheet_names, zipped
from perigram.core.formats.hpgl import TOLERANCE, write_hpgl
from perigram.core.formats.page import plain_name
from perigram.core.formats.svg import path_data
from perigram.core.press.plan import press_plan
from perigram.core.sheet.compare import compare
from perigram.core.sheet.figures import figures, small_places
from perigram.core.sheet.layout import Sheet, lay_out, placing, stock_of
from perigram.core.sheet.machine import READS, STARTERS, Machine, Reads
from perigram.core.sheet.order import outlines_in_order
from perigram.studio import cutter, schemas, services
from perigram.studio.models import CutJob, Habits

router = Router()

#: Outlines of one sheet whose order is shown; so many can be followed on screen.
_MOST_SHOWN = 1_500
#: How far in mm what is shown of the cut may be from its curves.
_SHOWN = 0.1
#: Jobs of a design that are told of.
_JOBS_SHOWN = 8


def machines_of(owner: AbstractBaseUser) -> tuple[list[Machine], str]:
    """The shop's machines, and which one is used; made-up ones until it says what it has."""
    habits = Habits.objects.filter(owner=owner).first()
    own = [Machine.model_validate(one) for one in habits.machines] if habits else []
    chosen = habits.machine if habits else ""
    machines = own or list(STARTERS)
    return machines, chosen if any(one.id == chosen for one in machines) else machines[0].id


@router.post("/sheets", response=schemas.SheetsOut)
def sheets(request: HttpRequest, body: schemas.SheetsIn) -> Any:
    """How a design's plies lie on their sheets, the order they are cut in, and what that takes."""
    machines, chosen = machines_of(request.user)
    machine = next(one for one in machines if one.id == chosen)
    laid = lay_out(stock_of(services.prove(request.user, body.design)), body.design.sheets)
    names = sheet_names(body.design.name, laid, machine.reads)
    return {
        "sheets": [_sheet(sheet, machine, name) for sheet, name in zip(laid, names, strict=True)],
        "warnings": [text for sheet in laid for text in _too_large(sheet, machine)],
    }


def _too_large(sheet: Sheet, machine: Machine) -> list[str]:
    """What of a sheet does not go into a machine."""
    stock, takes, found = sheet.stock, f"{machine.name} takes", []
    if stock.width > machine.width and sheet.number == 1:
        found.append(f"{stock.material} is {stock.width:g} mm wide; {takes} {machine.width:g} mm")
    if sheet.used > machine.length:
        found.append(f"{stock.name} is {sheet.used:.0f} mm long; {takes} {machine.length:g} mm")
    return found


def _sheet(sheet: Sheet, machine: Machine, file: str) -> dict[str, Any]:
    stock = sheet.stock
    shown = sheet.cut.loop_count <= _MOST_SHOWN
    outlines = outlines_in_order(sheet.cut, sheet.order, _SHOWN) if shown else []
    return {
        "ply": stock.id,
        "name": stock.name,
        "material": stock.material,
        "colour": stock.colour,
        "mirrored": stock.mirrored,
        "number": sheet.number,
        "count": sheet.count,
        "times": sheet.times,
        "width": stock.width,
        "length": stock.length,
        "used": sheet.used,
        "file": file,
        "items": [
            {
                "d": path_data(item.work, 2),
                "marks": path_data(item.marks, 2),
                "border": path_data(item.border, 2),
                "width": item.width,
                "height": item.height,
            }
            for item in sheet.items
        ],
        "placed": [
            {"item": one.item, "matrix": placing(one, sheet.items[one.item]).T.ravel().tolist()}
            for one in sheet.placed
        ],
        "order": [
            {
                "d": "M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in line.tolist()),
                "at": (float(line[0, 0]), float(line[0, 1])),
                "length": float(np.hypot(*np.diff(line, axis=0).T).sum()),
            }
            for line in outlines
        ],
        "small": small_places(sheet),
        "figures": asdict(figures(sheet, machine)),
    }


@router.get("/designs/{design_id}/sheet-files", response=bytes)
def files(request: HttpRequest, design_id: UUID, revision: Query[int]) -> HttpResponse:
    """A zip of one revision's sheets as the shop's machine reads them."""
    design = services.at_revision(services.find(request.user, design_id), revision)
    machines, chosen = machines_of(request.user)
    reads = next(one for one in machines if one.id == chosen).reads
    laid = lay_out(stock_of(services.prove(request.user, design)), design.sheets)
    response = HttpResponse(zipped(sheet_files(design.name, laid, reads)), content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="{plain_name(design.name)} - sheets.zip"'
    return response


@router.post("/press-plan", response=schemas.PlanOut)
def plan(request: HttpRequest, body: schemas.SheetsIn) -> Any:
    """What is pressed when, for how long and how hot."""
    proof = services.prove(request.user, body.design)
    made = press_plan(body.design, [ply.ply.id for ply in proof.plies if not ply.region.is_empty])
    return {
        "steps": [asdict(step) for step in made.steps],
        "heat": [asdict(one) for one in made.heat],
        "warnings": [{"ply": ply, "text": text} for ply, text in made.warnings],
        "seconds": made.seconds,
    }


@router.get("/machines", response=schemas.MachinesOut)
def machines(request: HttpRequest) -> Any:
    own, chosen = machines_of(request.user)
    reads: dict[Reads, str] = READS
    return {"machines": own, "chosen": chosen, "reads": reads, "wired": settings.CUTTER_PORT > 0}


@router.put("/machines", response=schemas.MachinesOut)
def change_machines(request: HttpRequest, body: schemas.MachinesIn) -> Any:
    """The shop's machines as they are from now on, and which one is used."""
    kept = {"machines": [one.model_dump(mode="json") for one in body.machines], "machine": body.chosen}
    Habits.objects.update_or_create(owner=request.user, defaults=kept)
    return machines(request)


@router.post("/designs/{design_id}/cut", response=schemas.JobOut)
def cut(request: HttpRequest, design_id: UUID, body: schemas.CutIn) -> Any:
    """Send one sheet of one revision to the cutter."""
    stored = services.find(request.user, design_id)
    design = services.at_revision(stored, body.revision)
    laid = lay_out(stock_of(services.prove(request.user, design)), design.sheets)
    if not 0 <= body.sheet < len(laid):
        raise PerigramError("There is no such sheet any more. Look at the sheets again.")
    sheet = laid[body.sheet]
    name = sheet_names(design.name, laid, "hpgl")[body.sheet].removesuffix(".hpgl")
    fine = outlines_in_order(sheet.cut, sheet.order, TOLERANCE)
    job = CutJob.objects.create(
        owner=request.user,
        design=stored,
        name=name[:200],
        width=sheet.stock.width,
        length=sheet.used,
        outlines=[np.round(line, 4).tolist() for line in fine],
    )
    try:
        cutter.send(str(job.id), name, write_hpgl(fine, sheet.used))
    except cutter.NoCutter:
        job.delete()
        raise
    return _job(job)


@router.get("/designs/{design_id}/jobs", response=list[schemas.JobOut])
def jobs(request: HttpRequest, design_id: UUID) -> Any:
    """What of a design was sent to the cutter lately, newest first, and how it came out."""
    stored = services.find(request.user, design_id)
    return [_job(job) for job in stored.jobs.all()[:_JOBS_SHOWN]] if settings.CUTTER_PORT else []


@router.post("/cutter/{button}", response={204: None})
def press_button(request: HttpRequest, button: Literal["pause", "go-on", "load"]) -> Any:
    cutter.press(button)
    return Status(204, None)


def _told(job: CutJob) -> dict[str, Any]:
    try:
        return cutter.told(str(job.id))
    except cutter.NoCutter:
        return {}


def _job(job: CutJob) -> dict[str, Any]:
    """A job as the cutter tells it; compared with its outlines once it is cut."""
    told = _told(job) if job.found is None else {"state": "done", "share": 1.0}
    if job.found is None and told.get("state") == "done":
        upright = [np.array(line) * [1.0, -1.0] + [0.0, job.length] for line in told["cut"]]
        job.found = asdict(compare([np.array(line) for line in job.outlines], upright, job.width))
        job.save(update_fields=["found"])
    return {
        "id": job.id,
        "name": job.name,
        "created": job.created,
        "state": told.get("state", "lost"),
        "share": told.get("share", 0.0),
        "found": job.found,
    }

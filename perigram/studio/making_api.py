"""The part of the API that takes a design from plies to goods: sheets, their files, the press plan."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any
from uuid import UUID

import numpy as np
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Status

from perigram.core.formats.bundle import sheet_files, sheet_names, zipped
from perigram.core.formats.page import plain_name
from perigram.core.formats.svg import line_data, path_data, polyline_data
from perigram.core.press.page import Head, Shown, plan_pdf
from perigram.core.press.plan import press_plan
from perigram.core.press.seams import DRIFT, seams
from perigram.core.recipe.design import Material
from perigram.core.recipe.materials import choices
from perigram.core.sheet.figures import figures
from perigram.core.sheet.machine import READS, Machine, Reads
from perigram.core.sheet.sheet import Sheet, placing
from perigram.core.sheet.weeding import small_places
from perigram.library import paper_fonts
from perigram.studio import making_schemas, nesting, services
from perigram.studio.machines import is_known, machine_of, machines_of
from perigram.studio.models import Habits

router = Router()

#: Outlines of one sheet whose order is shown; so many can be followed on screen.
_MOST_SHOWN = 1_500
#: How far in mm what is shown of the cut may be from its curves.
_SHOWN = 0.1
#: Jobs of a design that are told of.
_JOBS_SHOWN = 8


@router.post("/sheets", response=making_schemas.SheetsOut)
def sheets(request: HttpRequest, body: making_schemas.SheetsIn) -> Any:
    """How a design's plies lie on their sheets, the order they are cut in, and what that takes."""
    machine = machine_of(request.user)
    laid, state = nesting.laid(request.user, body.design)
    names = sheet_names(body.design.name, laid, machine.reads)
    return {
        "sheets": [_sheet(sheet, machine, name) for sheet, name in zip(laid, names, strict=True)],
        "warnings": [text for sheet in laid for text in _too_large(sheet, machine)],
        "nesting": state,
    }


@router.post("/nest", response={202: None})
def nest(request: HttpRequest, body: making_schemas.NestIn) -> Any:
    """Begin to nest a design's plies by their outlines; `sheets` shows what was found so far."""
    nesting.start(request.user, body.design, body.seconds)
    return Status(202, None)


@router.post("/nest/stop", response={204: None})
def stop_nesting(request: HttpRequest, body: making_schemas.SheetsIn) -> Any:
    """Leave it at what was found so far."""
    nesting.stop(request.user, body.design)
    return Status(204, None)


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
    shown = sheet.cut.loop_count + len(sheet.lines) <= _MOST_SHOWN
    strokes = sheet.strokes(_SHOWN) if shown else []
    return {
        "ply": stock.id,
        "name": stock.name,
        "material": stock.material,
        "colour": stock.colour,
        "mirrored": stock.mirrored,
        "turned": any(one.quarters % 2 for one in sheet.placed),
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
                "lines": line_data(item.lines, 2),
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
                "d": polyline_data([line]),
                "at": (float(line[0, 0]), float(line[0, 1])),
                "length": float(np.hypot(*np.diff(line, axis=0).T).sum()),
            }
            for line in strokes
        ],
        "frame": path_data(sheet.frame, 2),
        "part": sheet.part,
        "small": small_places(sheet.work),
        "figures": asdict(figures(sheet, machine)),
    }


@router.get("/designs/{design_id}/sheet-files", response=bytes)
def files(request: HttpRequest, design_id: UUID, revision: Query[int]) -> HttpResponse:
    """A zip of one revision's sheets as the shop's machine reads them."""
    design = services.at_revision(services.find(request.user, design_id), revision)
    laid, _ = nesting.laid(request.user, design)
    files = sheet_files(design.name, laid, machine_of(request.user))
    response = HttpResponse(zipped(files), content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="{plain_name(design.name)} - sheets.zip"'
    return response


@router.get("/materials", response=list[Material])
def materials(request: HttpRequest) -> Any:
    """What the shop has on its shelf: sheets, rolls and how they are pressed, for any design."""
    habits = Habits.objects.filter(owner=request.user).first()
    return [Material.model_validate(one) for one in habits.materials] if habits else []


@router.put("/materials", response=list[Material])
def change_materials(request: HttpRequest, body: making_schemas.MaterialsIn) -> Any:
    """The shop's materials as they are from now on."""
    kept = {"materials": [one.model_dump(mode="json") for one in body.materials]}
    Habits.objects.update_or_create(owner=request.user, defaults=kept)
    return materials(request)


@router.post("/materials/choices", response=list[making_schemas.ChoiceOut])
def material_choices(request: HttpRequest, body: making_schemas.ChoicesIn) -> Any:
    """What a ply could be cut from: the design's materials and the shop's, those that suit first."""
    return choices(body.design, body.ply, materials(request))


@router.post("/press-plan", response=making_schemas.PlanOut)
def plan(request: HttpRequest, body: making_schemas.SheetsIn) -> Any:
    """What is pressed when, for how long and how hot."""
    proof = services.prove(request.user, body.design)
    there = [ply for ply in proof.plies if not ply.region.is_empty]
    made = press_plan(body.design, [ply.ply.id for ply in there])
    found = services.ShopCache(request.user).get(
        ("seams", *(ply.key for ply in there)), lambda: seams([ply.region for ply in there])
    )
    return {
        "steps": [asdict(step) for step in made.steps],
        "heat": [asdict(one) for one in made.heat],
        "warnings": [asdict(one) for one in made.warnings],
        "seconds": made.seconds,
        "drift": DRIFT,
        "seams": [
            {
                "under": there[one.under].ply.id,
                "over": there[one.over].ply.id,
                "length": one.length,
                "d": polyline_data(one.lines),
            }
            for one in found
        ],
    }


@router.get("/designs/{design_id}/press-plan.pdf", response=bytes)
def plan_to_print(request: HttpRequest, design_id: UUID, revision: Query[int]) -> HttpResponse:
    """The press plan of one revision as a PDF, on the paper of the design's unit."""
    design = services.at_revision(services.find(request.user, design_id), revision)
    proof = services.prove(request.user, design)
    there = [ply for ply in proof.plies if not ply.region.is_empty]
    made = press_plan(design, [ply.ply.id for ply in there])
    about = f"on {design.ground.name}"
    if proof.bounds is not None:
        x0, y0, x1, y1 = proof.bounds
        inches = design.unit == "in"
        size = " × ".join(f"{side / 25.4:.2f}" if inches else f"{side:.1f}" for side in (x1 - x0, y1 - y0))
        about += f", {size} {design.unit}"
    head = Head(design.name, about, design.ground.colour, design.unit)
    shown = [Shown(ply.ply.id, ply.material.colour, ply.region) for ply in there]
    pdf = plan_pdf(made, head, shown, paper_fonts())
    response = HttpResponse(pdf, content_type="application/pdf")
    response["Content-Disposition"] = f'attachment; filename="{plain_name(design.name)} - press plan.pdf"'
    return response


@router.get("/machines", response=making_schemas.MachinesOut)
def machines(request: HttpRequest) -> Any:
    own, chosen = machines_of(request.user)
    reads: dict[Reads, str] = READS
    return {
        "machines": own,
        "chosen": chosen,
        "reads": reads,
        "known": is_known(request.user),
        "wired": settings.CUTTER_PORT > 0,
    }


@router.put("/machines", response=making_schemas.MachinesOut)
def change_machines(request: HttpRequest, body: making_schemas.MachinesIn) -> Any:
    """The shop's machines as they are from now on, and which one is used."""
    kept = {"machines": [one.model_dump(mode="json") for one in body.machines], "machine": body.chosen}
    Habits.objects.update_or_create(owner=request.user, defaults=kept)
    return machines(request)

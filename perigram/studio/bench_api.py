"""The part of the API that works on a design on the bench: proofs of it, and edits that plies follow."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import HttpRequest
from ninja import Query, Router

from perigram.core.art.shapes import gallery
from perigram.core.errors import PerigramError
from perigram.core.formats.svg import path_data, polyline_data
from perigram.core.geometry import measure
from perigram.core.geometry.measure import Box
from perigram.core.geometry.region import Region
from perigram.core.recipe import edit
from perigram.core.recipe.arrange import arrange
from perigram.core.recipe.curves import curves_for
from perigram.core.recipe.design import Design
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.core.recipe.pieces import Places
from perigram.core.recipe.refs import line_of, result_of
from perigram.core.recipe.scale import scale_to
from perigram.core.recipe.things import called
from perigram.core.sheet.weeding import small_places
from perigram.library import DesignSources, starts
from perigram.studio import schemas, services

router = Router()


def drawn(region: Region) -> dict[str, Any]:
    """A region as it is shown small or picked: to a hundredth of a millimetre."""
    return {"d": path_data(region, 2), "box": measure.bounds(region)}


@router.post("/proof", response=schemas.ProofOut)
def prove(request: HttpRequest, body: schemas.ProofIn) -> Any:
    """Evaluate a design without saving it: what the bench shows while she works."""
    held = set(body.have)
    proof = services.prove(request.user, body.design, body.care)
    cache = services.ShopCache(request.user)

    def path(key: str, region: Any) -> str | None:
        if key in held:
            return None
        held.add(key)
        written: str = cache.get((key, "path"), lambda: path_data(region, 3))
        return written

    def box(key: str, region: Any) -> Any:
        return cache.get((key, "box"), lambda: measure.bounds(region))

    def small(key: str, region: Any) -> Any:
        return cache.get((key, "small"), lambda: small_places(region)) if proof.checked else []

    return {
        "results": [
            {
                "ref": r.ref,
                "line": line_of(r.ref),
                "name": result_of(r.ref),
                "key": r.key,
                "d": path(r.key, r.region),
                "box": box(r.key, r.region),
                "levels": r.made.levels,
            }
            for r in proof.results
        ],
        "plies": [
            {
                "id": p.ply.id,
                "name": p.ply.name,
                "key": p.key,
                "d": path(p.key, p.region),
                "box": box(p.key, p.region),
                "area": p.measures.area,
                "length": p.measures.length,
                "pieces": p.measures.pieces,
                "nodes": p.measures.nodes,
                "small": small(p.key, p.region),
            }
            for p in proof.plies
        ],
        "findings": proof.findings,
        "shapings": {
            line: {"handles": one.handles, "curves": [polyline_data([curve]) for curve in one.curves]}
            for line, one in proof.shapings.items()
        },
        "called": called(body.design.recipe, body.design.picture_names),
        "bounds": proof.bounds,
        "cuttable": proof.is_cuttable,
        "checked": proof.checked,
    }


@router.post("/lines/add", response=schemas.EditedOut)
def add_line(request: HttpRequest, body: schemas.AddLineIn) -> Any:
    """A line at the end, on what is chosen, placed by what is there."""
    proof = services.prove(request.user, body.design, "drawn")
    boxes = {result.ref: measure.bounds(result.region) for result in proof.results}
    bench = edit.Bench(
        chosen=body.chosen,
        boxes={ref: box for ref, box in boxes.items() if box},
        seen=[box for ply in proof.plies if (box := measure.bounds(ply.region))],
    )
    size = services.picture_size(request.user, body.picture)[1:] if body.picture else (0.0, 0.0)
    design, line = edit.add_line(body.design, body.kind, body.picture, size, bench, body.given)
    return {"design": design, "line": line}


@router.post("/lines/change", response=schemas.EditedOut)
def change_line(request: HttpRequest, body: schemas.ChangeLineIn) -> Any:
    """A line that works on other things than before, plies following."""
    return {"design": edit.change_sources(body.design, body.line, body.values), "line": body.line}


@router.get("/starts", response=list[schemas.StartOut])
def starts_drawn(request: HttpRequest, word: str = Query("", max_length=40)) -> Any:
    """Whole recipes to start from, drawn with a word of one's own."""
    cache = services.ShopCache(request.user)

    def drawn_with(design: Design) -> dict[str, Any]:
        proof = evaluate(design, DesignSources(design), cache, "drawn")
        return services.shelf_picture(design, proof)

    return [
        {"id": one, "name": design.name, "picture": drawn_with(edit.with_word(design, word))}
        for one, design in starts().items()
    ]


@router.post("/starts/take", response=schemas.EditedOut)
def take_start(request: HttpRequest, body: schemas.TakeStartIn) -> Any:
    """A design with a whole recipe to start from, in the place of what it has."""
    start = starts().get(body.start)
    if start is None:
        raise PerigramError("There is no such start. Choose one of those shown.")
    taken = services.adopt(request.user, edit.with_word(start, body.word))
    brought = {name: getattr(taken, name) for name in ("materials", "pictures", "recipe", "plies")}
    return {"design": body.design.model_copy(update=brought), "line": taken.recipe[0].id}


@router.post("/lines/curves", response=list[schemas.CurveOut])
def starting_curves(request: HttpRequest, body: schemas.LineIn) -> Any:
    """Curves a warp can start from, drawn with what it works on."""

    def prove(design: Design) -> Proof:
        return services.prove_lines(request.user, design)

    return [
        {
            "name": curve.name,
            "values": curve.values,
            "d": "".join(path_data(region, 1) for region in curve.regions),
            "box": measure.union_box([measure.bounds(region) for region in curve.regions]),
        }
        for curve in curves_for(body.design, body.line, prove)
    ]


@router.post("/parts", response=list[schemas.PartOut])
def parts(request: HttpRequest, body: schemas.PartsIn) -> Any:
    """What a result consists of, each part where it lies, to be picked by itself."""
    results = services.prove_lines(request.user, body.design, line_of(body.of)).results
    made = next((r.made for r in results if r.ref == body.of), None)
    return [
        {"path": part.path, "name": part.name, **drawn(part.region)}
        for part in (made.parts() if made else ())
    ]


@router.post("/pieces", response=list[schemas.PieceOut])
def pieces(request: HttpRequest, body: schemas.PiecesIn) -> Any:
    """What can be picked of a line on the proof, one by one, and what a pick of each says."""
    proof = services.prove_lines(request.user, body.design, body.line, body.care)
    return [
        {"pick": piece.pick, "name": piece.name, **drawn(piece.region)}
        for piece in proof.pieces.get(body.line, ())
    ]


@router.post("/pieces/anchor", response=schemas.AnchorOut)
def anchor(request: HttpRequest, body: schemas.AnchorIn) -> Any:
    """How a place on a result is found again."""
    results = services.prove_lines(request.user, body.design, line_of(body.of)).results
    made = {r.ref: r.made for r in results if r.ref == body.of}
    found = Places(made).anchor(np.array(body.at))
    if found is None:
        raise PerigramError("There is nothing there to hold on to. Click on the thing itself.")
    return {"anchor": found[0]}


@router.post("/scale", response=schemas.EditedOut)
def scale(request: HttpRequest, body: schemas.ScaleIn) -> Any:
    """The whole design as wide or as tall as asked for."""

    def proof_of(design: Design) -> Proof:
        return services.prove(request.user, design, "drawn")

    return {"design": scale_to(body.design, body.side, body.size, body.measures, proof_of), "line": None}


@router.get("/figures", response=list[schemas.CurveOut])
def figures(request: HttpRequest) -> Any:
    """Ready shapes to choose from, each drawn at its best, and the values of a line that make it."""
    return [
        {
            "name": one.figure,
            "values": {"figure": one.figure, "points": float(one.points)},
            **drawn(one.region),
        }
        for one in gallery()
    ]


@router.post("/plies/own", response=schemas.EditedOut)
def own_ply(request: HttpRequest, body: schemas.OwnPlyIn) -> Any:
    """A result cut from a ply of its own, of a material that can be told from the others."""
    return {"design": edit.on_own_ply(body.design, body.of), "line": None}


@router.post("/lines/remove", response=schemas.EditedOut)
def remove_line(request: HttpRequest, body: schemas.RemoveLineIn) -> Any:
    return {"design": edit.remove_line(body.design, body.line), "line": None}


@router.post("/lines/arrange", response=schemas.EditedOut)
def arrange_lines(request: HttpRequest, body: schemas.ArrangeIn) -> Any:
    """Lines aligned, spread evenly or matched in size."""

    def boxes(design: Design) -> dict[str, Box]:
        proof = services.prove_lines(request.user, design)
        found = {line_of(r.ref): measure.bounds(r.region) for r in proof.results}
        return {line: box for line, box in found.items() if box}

    design = arrange(body.design, body.lines, body.how, body.to, body.hold, boxes)
    return {"design": design, "line": None}

"""The part of the API that is about fonts and letters."""

from __future__ import annotations

import unicodedata
from functools import lru_cache
from typing import Any

from django.http import HttpRequest
from ninja import File, Query, Router, Status, UploadedFile

from perigram.core.errors import PerigramError
from perigram.core.lettering.fontfile import refuse_large
from perigram.core.lettering.fonts import Font
from perigram.core.recipe.block import even_block
from perigram.core.recipe.design import Design
from perigram.core.recipe.evaluate import Proof
from perigram.core.recipe.letterforms import features, forms
from perigram.core.recipe.lines.letter import Letter
from perigram.studio import fonts, lettering_schemas, schemas, services
from perigram.studio.bench_api import drawn

router = Router()

#: Fonts whose previews are asked for at once, and characters a palette shows of one group.
_MOST_PREVIEWS, _MOST_GLYPHS = 60, 240


@router.get("/fonts", response=list[lettering_schemas.FontOut])
def all_fonts(request: HttpRequest) -> Any:
    return fonts.fonts_of(request.user)


@router.post("/fonts", response=lettering_schemas.FontOut)
def bring_in_font(request: HttpRequest, file: File[UploadedFile]) -> Any:
    """Keep a font file, once it has proved usable."""
    called = (file.name or "The file")[:120]
    refuse_large(file.size or 0, called)
    return fonts.store_font(request.user, file.read(), called)


@router.delete("/fonts/{font_id}", response={204: None})
def remove_font(request: HttpRequest, font_id: str) -> Any:
    fonts.remove_font(request.user, font_id)
    return Status(204, None)


@router.get("/font-previews", response=list[lettering_schemas.FontPreview])
def font_previews(request: HttpRequest, text: str, font: Query[list[str]]) -> Any:
    """The words in each of the fonts, at one cap height."""
    words = text.strip()[:40] or "Abc"
    found = [(font_id, fonts.find_font(request.user, font_id)) for font_id in font[:_MOST_PREVIEWS]]
    return [{"id": font_id, **_preview(one, words)} for font_id, one in found]


@router.post("/lines/block", response=schemas.EditedOut)
def block(request: HttpRequest, body: schemas.BlockIn) -> Any:
    """A lettering's rows made one even block, about as large as they are."""

    def prove(design: Design) -> Proof:
        return services.prove_lines(request.user, design)

    design = even_block(body.design, body.line, body.fit, body.align, body.gives, prove)
    return {"design": design, "line": None}


@router.post("/letters/forms", response=list[lettering_schemas.FormOut])
def letter_forms(request: HttpRequest, body: lettering_schemas.LetterIn) -> Any:
    """The forms a letter can take: as the font sets it, and its alternates."""
    sources = services.ShopSources(request.user)
    found = forms(_lettering(body), body.row, body.at, sources)
    return [{"code": form.code, "name": form.name, **drawn(form.region)} for form in found]


@router.post("/letters/features", response=list[lettering_schemas.FeatureOut])
def line_features(request: HttpRequest, body: schemas.LineIn) -> Any:
    """The features of a line's font, each with the words as switching it over would set them."""
    found = features(_lettering(body), services.ShopSources(request.user))
    return [
        {
            "tag": one.feature.tag,
            "name": one.feature.name,
            "on": one.on,
            "changes": one.changes,
            "d": one.sketch[0],
            "box": one.sketch[1],
        }
        for one in found
    ]


@router.get("/fonts/{font_id}/glyphs", response=list[lettering_schemas.GlyphGroup])
def glyphs(request: HttpRequest, font_id: str) -> Any:
    """The characters of a font, in groups, to choose from by looking."""
    return _palette(fonts.find_font(request.user, font_id))


def _lettering(body: schemas.LineIn) -> Letter:
    line = next((one for one in body.design.recipe if one.id == body.line), None)
    if not isinstance(line, Letter):
        raise PerigramError("This is not a line of words. Choose one first.")
    return line


@lru_cache(maxsize=4000)
def _preview(font: Font, text: str) -> dict[str, Any]:
    missing = set(font.missing(text))
    d, box = font.sketch("".join(c for c in text if c not in missing))
    return {"d": d, "box": box}


_GROUPS = {
    "Lu": "Capitals",
    "Ll": "Small letters",
    "Nd": "Figures",
    "No": "Figures",
    "P": "Signs",
    "S": "Symbols and ornaments",
    "Co": "Symbols and ornaments",
    "L": "More letters",
}


@lru_cache(maxsize=60)
def _palette(font: Font) -> list[dict[str, Any]]:
    groups: dict[str, list[dict[str, Any]]] = {name: [] for name in _GROUPS.values()}
    for code in sorted(font.coverage):
        kind = unicodedata.category(chr(code))
        name = _GROUPS.get(kind) or _GROUPS.get(kind[0])
        if name is None or len(groups[name]) >= _MOST_GLYPHS:
            continue
        d, box = font.sketch(chr(code))
        if d:
            named = unicodedata.name(chr(code), f"U+{code:04X}").capitalize()
            groups[name].append({"text": chr(code), "name": named, "d": d, "box": box})
    return [{"name": name, "glyphs": found} for name, found in groups.items() if found]

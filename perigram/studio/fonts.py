"""A shop's own fonts beside the shipped ones."""

from __future__ import annotations

from functools import lru_cache

from django.contrib.auth.models import AbstractBaseUser

from perigram.core.errors import FontError
from perigram.core.lettering.fontfile import FontFile, read_font_file
from perigram.core.lettering.fonts import Font
from perigram.library import font_catalogue, fonts_with, open_font, own_font_id
from perigram.studio import heavy
from perigram.studio.lettering_schemas import FontOut
from perigram.studio.models import FontUpload

#: Fonts a shop may keep.
MOST_FONTS = 400


def find_font(owner: AbstractBaseUser, font_id: str) -> Font:
    """A shipped font, or one of the owner's.

    Raises:
        FontError: when it is neither.
    """
    if not font_id.startswith("own-"):
        return open_font(font_id)
    if not FontUpload.objects.filter(owner=owner, font_id=font_id).exists():
        raise FontError("This font is not in your shop. Bring it in again, or choose another.")
    return _opened(font_id)


@lru_cache(maxsize=120)
def _opened(font_id: str) -> Font:
    """A font by its content: equal ids are equal bytes, whoever brought them in."""
    stored = FontUpload.objects.filter(font_id=font_id).first()
    if stored is None:
        raise FontError("This font is not in your shop. Bring it in again, or choose another.")
    return Font(bytes(stored.data))


def store_font(owner: AbstractBaseUser, data: bytes, called: str) -> FontOut:
    """Keep a font once it has proved usable.

    Raises:
        FontError: saying what is wrong with the file, or that the shop is full.
    """
    read = heavy.read(owner, called, read_font_file, data, called)
    if owner.fonts.count() >= MOST_FONTS:  # type: ignore[attr-defined]
        raise FontError(f"A shop keeps up to {MOST_FONTS} fonts of its own. Remove one first.")
    font_id = own_font_id(read.data)
    about = _about(font_id, read)
    FontUpload.objects.get_or_create(
        owner=owner,
        font_id=font_id,
        defaults={
            "name": read.name,
            "data": read.data,
            "about": about.model_dump(mode="json"),
            "covers": read.covers,
        },
    )
    return about


def fonts_of(owner: AbstractBaseUser) -> list[FontOut]:
    """Shipped fonts, then the owner's own by name."""
    own = FontUpload.objects.filter(owner=owner).values_list("about", flat=True)
    shipped = [FontOut(id=e.id, name=e.name, tags=list(e.tags)) for e in font_catalogue()]
    return shipped + [FontOut.model_validate(about) for about in own]


def names_with(owner: AbstractBaseUser, characters: str) -> list[str]:
    """Names of fonts that have all of the characters."""
    own = FontUpload.objects.filter(owner=owner)
    for character in set(characters):
        own = own.filter(covers__contains=character)
    return fonts_with(characters) + list(own.values_list("name", flat=True))


def state_of(owner: AbstractBaseUser) -> str:
    """Another one whenever a font comes into the shop or goes."""
    return ",".join(sorted(FontUpload.objects.filter(owner=owner).values_list("font_id", flat=True)))


def remove_font(owner: AbstractBaseUser, font_id: str) -> None:
    FontUpload.objects.filter(owner=owner, font_id=font_id).delete()


def _about(font_id: str, read: FontFile) -> FontOut:
    return FontOut(
        id=font_id,
        name=read.name,
        tags=["own", *read.tags],
        own=True,
        kind=read.kind,
        embedding=read.embedding,
        licence=read.licence,
        characters=read.characters,
        coverage={name: list(counts) for name, counts in read.coverage.items()},
        axes=[vars(axis) for axis in read.axes],
    )

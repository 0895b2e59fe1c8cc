"""The press plan of a design: its plies from the ground up, each tacked, then one full press for all.

Tacking for as short as lets the carrier go, and one full press at the end so that what shrinks shrinks
together, is common practice; so is warming the garment first. Seconds and degrees are the materials' own.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from perigram.core.recipe.design import Design, Material, Ply
from perigram.core.recipe.materials import MATERIAL_KINDS

#: Seconds the bare garment is warmed for (common practice: 3 to 4).
WARMING = 4.0


@dataclass(frozen=True)
class Step:
    """One step of making.

    Attributes:
        kind: "warm", "tack" and "press" are under the press; "lay" is by hand.
        ply: the ply it is about, if one.
        shown: ids of plies that lie on the ground when it is done.
        seconds, heat: under the press, in s and degrees C; none by hand.
    """

    kind: Literal["warm", "tack", "press", "lay"]
    title: str
    text: str
    ply: str | None
    shown: tuple[str, ...]
    seconds: float | None = None
    heat: float | None = None


@dataclass(frozen=True)
class Heat:
    """How many seconds of heat a ply has had at the end, and how many its material takes."""

    ply: str
    seconds: float
    most: float


@dataclass(frozen=True)
class Warned:
    """What to look out for, or what cannot be made as it is; the ply it is about, if one."""

    level: Literal["look", "stop"]
    text: str
    ply: str | None = None


@dataclass(frozen=True)
class Plan:
    """Steps in order, heat by ply from the bottom, what to look out for, and seconds under the press."""

    steps: tuple[Step, ...]
    heat: tuple[Heat, ...]
    warnings: tuple[Warned, ...]
    seconds: float


#: A ply with what it is cut from.
_Laid = tuple[Ply, Material]


def press_plan(design: Design, cut: Sequence[str]) -> Plan:
    """The plan for the plies that have something to cut, from the ground up whatever they are made of.

    Nothing is ever laid beneath what is already down. What cannot be made in that order is a warning of level
    "stop" that says what would work.

    Args:
        cut: their ids, from the bottom up.
    """
    materials = {one.id: one for one in design.materials}
    there = [ply for ply in design.plies if ply.id in cut and ply.material in materials]
    plies = [(ply, materials[ply.material]) for ply in there]
    pressed = [(ply, material) for ply, material in plies if _is_pressed(material)]
    had = {ply.id: 0.0 for ply, _ in pressed}
    steps: list[Step] = [_warming(design, pressed)] if pressed else []
    done: list[str] = []
    for ply, material in plies:
        done.append(ply.id)
        if not _is_pressed(material):
            title, text = _HAND[material.kind]
            steps.append(Step("lay", f"{ply.name}: {title}", text, ply.id, tuple(done)))
            continue
        press = material.pressing
        if len(pressed) > 1:
            _heated(had, done, press.tack)
            title = f"{ply.name}: tack, peel {press.peel}"
            text = f"{_FIRST if len(done) == 1 else _NEXT} {_says(material)}"
            steps.append(Step("tack", title, text, ply.id, tuple(done), press.tack, press.heat))
        if ply is pressed[-1][0]:
            # What is laid by hand above comes after the last heat.
            steps.append(_full_press(pressed, tuple(done)))
            _heated(had, done, steps[-1].seconds or 0.0)
    heats = tuple(Heat(ply.id, had[ply.id], material.pressing.most) for ply, material in pressed)
    warnings = (*_cannot_be_made(plies), *_warnings(pressed, had))
    return Plan(tuple(steps), heats, warnings, sum(step.seconds or 0.0 for step in steps))


def _is_pressed(material: Material) -> bool:
    """Whether it is put on by heat; all else is laid by hand."""
    return material.kind == "htv"


def _warming(design: Design, pressed: Sequence[_Laid]) -> Step:
    heat = max(material.pressing.heat for _, material in pressed)
    text = "Nothing on it yet: drives moisture out and lets the cloth shrink first."
    return Step("warm", f"Warm {_plain(design.ground.name)}", text, None, (), WARMING, heat)


def _full_press(pressed: Sequence[_Laid], done: tuple[str, ...]) -> Step:
    """The one full press, right after the last ply that takes heat is down."""
    seconds = max(material.pressing.full for _, material in pressed)
    heat = min(material.pressing.heat for _, material in pressed)
    if len(pressed) == 1:
        ply, material = pressed[0]
        title = f"{ply.name}: press, peel {material.pressing.peel}"
        return Step("press", title, _says(material), ply.id, done, seconds, heat)
    text = "Under a cover sheet: what shrinks, shrinks together. Let it cool before the first wash."
    return Step("press", "All together", text, None, done, seconds, heat)


def _heated(had: dict[str, float], done: Sequence[str], seconds: float) -> None:
    for one in done:
        if one in had:
            had[one] += seconds


def _cannot_be_made(plies: Sequence[_Laid]) -> list[Warned]:
    """A stop for each ply that would be pressed over one that bears no heat (common practice)."""
    found: list[Warned] = []
    for at, (ply, material) in enumerate(plies):
        if not _is_pressed(material):
            continue
        for below, under in plies[:at]:
            if not _is_pressed(under):
                bears = f"{MATERIAL_KINDS[under.kind].name} is not pressed"
                mend = f"Move {below.name} above it, or cut it from heat-transfer vinyl."
            elif under.pressing.last:
                bears = f"nothing may be pressed over {under.name}"
                mend = f"Move {below.name} to the top, or cut it from another material."
            else:
                continue
            text = f"{ply.name} would be pressed over {below.name}, and {bears}. {mend}"
            found.append(Warned("stop", text, below.id))
    # One sentence for each ply that is in the way, about the first that would be pressed over it.
    first = {one.ply: one for one in reversed(found)}
    return [first[ply.id] for ply, _ in plies if ply.id in first]


_FIRST = "Lay it straight: the rest goes by it."
_NEXT = "Marks over marks, or centred on what lies there."
_HAND = {
    "vinyl": (
        "weed, mask, lay, squeegee",
        "Weed it, mask it with transfer tape, lay it by its marks and squeegee from the middle outwards.",
    ),
    "card": (
        "weed, place, glue",
        "Take out what is waste, place it by what lies there, and glue it down.",
    ),
}


def _says(material: Material) -> str:
    press = material.pressing
    said = f"{press.pressure.capitalize()} pressure."
    return f"{said} {press.notes}".strip()


def _plain(name: str) -> str:
    return name[:1].lower() + name[1:] if name[1:2].islower() else name


def _warnings(pressed: Sequence[_Laid], had: dict[str, float]) -> list[Warned]:
    found: list[Warned] = []
    for ply, material in pressed:
        press = material.pressing
        if had[ply.id] > press.most:
            text = f"{ply.name} gets {had[ply.id]:g} of the {press.most:g} s of heat its material takes"
            found.append(Warned("look", text, ply.id))
    heats = sorted({material.pressing.heat for _, material in pressed})
    if len(heats) > 1 and heats[-1] - heats[0] > 15.0:
        text = f"Materials want {heats[0]:g} to {heats[-1]:g} °C: all are pressed together at {heats[0]:g} °C"
        found.append(Warned("look", text))
    return found

"""The press plan of a design: its plies from the ground up, each tacked, then one full press for all.

Tacking for as short as lets the carrier go, and one full press at the end so that what shrinks shrinks
together, is common practice; so is warming the garment first. Seconds and degrees are the materials' own.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from perigram.core.recipe.design import Design, Material, Ply

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
class Plan:
    """Steps in order, heat by ply from the bottom, what to look out for, and seconds under the press."""

    steps: tuple[Step, ...]
    heat: tuple[Heat, ...]
    warnings: tuple[tuple[str | None, str], ...]
    seconds: float


def press_plan(design: Design, cut: Sequence[str]) -> Plan:
    """The plan for the plies that have something to cut.

    Args:
        cut: their ids, from the bottom up.
    """
    materials = {one.id: one for one in design.materials}
    there = [ply for ply in design.plies if ply.id in cut and ply.material in materials]
    plies = [(ply, materials[ply.material]) for ply in there]
    pressed = [(ply, material) for ply, material in plies if material.kind == "htv"]
    by_hand = [(ply, material) for ply, material in plies if material.kind != "htv"]
    steps: list[Step] = []
    had = {ply.id: 0.0 for ply, _ in pressed}
    done: list[str] = []
    if pressed:
        warm = max(material.pressing.heat for _, material in pressed)
        text = "Nothing on it yet: drives moisture out and lets the cloth shrink first."
        steps.append(Step("warm", f"Warm {_plain(design.ground.name)}", text, None, (), WARMING, warm))
        for at, (ply, material) in enumerate(pressed):
            if len(pressed) == 1:
                break
            press = material.pressing
            done.append(ply.id)
            for one in done:
                had[one] += press.tack
            where = _FIRST if at == 0 else _NEXT
            title = f"{ply.name}: tack, peel {press.peel}"
            steps.append(
                Step("tack", title, f"{where} {_says(material)}", ply.id, tuple(done), press.tack, press.heat)
            )
        done = [ply.id for ply, _ in pressed]
        seconds = max(material.pressing.full for _, material in pressed)
        heat = min(material.pressing.heat for _, material in pressed)
        for one in done:
            had[one] += seconds
        if len(pressed) == 1:
            ply, material = pressed[0]
            title = f"{ply.name}: press, peel {material.pressing.peel}"
            steps.append(Step("press", title, _says(material), ply.id, tuple(done), seconds, heat))
        else:
            text = "Under a cover sheet: what shrinks, shrinks together. Let it cool before the first wash."
            steps.append(Step("press", "All together", text, None, tuple(done), seconds, heat))
    for ply, material in by_hand:
        done.append(ply.id)
        steps.append(
            Step(
                "lay", f"{ply.name}: {_HAND[material.kind][0]}", _HAND[material.kind][1], ply.id, tuple(done)
            )
        )
    heats = tuple(Heat(ply.id, had[ply.id], material.pressing.most) for ply, material in pressed)
    return Plan(
        tuple(steps),
        heats,
        tuple(_warnings(pressed, had)),
        sum(step.seconds or 0.0 for step in steps),
    )


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


def _warnings(pressed: Sequence[tuple[Ply, Material]], had: dict[str, float]) -> list[tuple[str | None, str]]:
    found: list[tuple[str | None, str]] = []
    for at, (ply, material) in enumerate(pressed):
        press = material.pressing
        if had[ply.id] > press.most:
            text = f"{ply.name} gets {had[ply.id]:g} of the {press.most:g} s of heat its material takes"
            found.append((ply.id, text))
        if press.last and at < len(pressed) - 1:
            found.append(
                (ply.id, f"Nothing may be pressed over {material.name}: make {ply.name} the top ply")
            )
    heats = sorted({material.pressing.heat for _, material in pressed})
    if len(heats) > 1 and heats[-1] - heats[0] > 15.0:
        text = f"Materials want {heats[0]:g} to {heats[-1]:g} °C: all are pressed together at {heats[0]:g} °C"
        found.append((None, text))
    return found

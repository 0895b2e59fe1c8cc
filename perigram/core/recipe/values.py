"""The values in a line's sentence: what kind of thing each is, its range and how it is shown.

Ranges are not enforced when a design is read: a value out of range is a finding on its line, and
the rest of the design still evaluates. They travel to the interface in the fields' extra schema.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, FiniteFloat

#: "line id/result name" of an earlier line. A result that is named after what it came from has that one's
#: reference for its name, so that references grow with every such line.
Ref = Annotated[str, Field(max_length=800)]


def slot(kind: str, label: str, default: Any, **extra: Any) -> Any:
    """A value in a sentence. `extra` holds what the editor needs: low, high, step, choices."""
    return Field(default, json_schema_extra={"slot": kind, "label": label, **extra})


def length(
    label: str, default: float, low: float, high: float, step: float = 0.1, measure: bool = False
) -> Any:
    """A length in mm: a size, that grows with the design, or a `measure`, as material and machine need it."""
    scales = "measure" if measure else "size"
    return slot("length", label, default, low=low, high=high, step=step, scales=scales)


def angle(label: str, default: float, low: float, high: float, step: float = 1.0) -> Any:
    """An angle in degrees."""
    return slot("angle", label, default, low=low, high=high, step=step)


def number(label: str, default: float, low: float, high: float, step: float = 1.0) -> Any:
    """A number without a unit: how many times, what o'clock."""
    return slot("number", label, default, low=low, high=high, step=step)


def percent(label: str, default: float, low: float, high: float, zero: str | None = None) -> Any:
    """A share in percent; `zero` is what stands in the sentence for none."""
    return slot("percent", label, default, low=low, high=high, step=1.0, zero=zero)


#: What stands after a number in a sentence, by its kind of value; a gap says itself what it is in.
UNITS = {"length": " mm", "gap": " mm", "angle": "°", "number": "", "percent": " %"}


def ranged(
    default: Any, low: float, high: float, step: float = 0.1, scales: str | None = None, **more: Any
) -> Any:
    """A number that is not a value of a sentence but edited beside one: its range, and how it steps.

    `scales` says whether it grows with the design: "size" does, "measure" only if asked for. `more` are the
    range's ends where they are held when a design is read: `gt`, `le`.
    """
    extra: dict[str, Any] = {"low": low, "high": high, "step": step}
    return Field(default, json_schema_extra=extra | ({"scales": scales} if scales else {}), **more)


def limits(model: type[BaseModel], name: str) -> tuple[float, float]:
    """The least and the greatest a number of a model can be."""
    extra = model.model_fields[name].json_schema_extra
    assert isinstance(extra, dict), f"{name} has no range"
    return float(extra["low"]), float(extra["high"])  # type: ignore[arg-type]


class Strict(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Gap(Strict):
    """How far a row is from the one above: clear of it, in mm or in percent of its own height, or with
    "line" as line spacing, from baseline to baseline in percent of its font's own.
    """

    value: FiniteFloat = 3.0
    of: Literal["mm", "percent", "line"] = "mm"


class Place(Strict):
    """Where a thing is: its middle from the design's origin or, with `on`, in relation to that result.

    `across` and `down` say which relation holds; `x` and `y` are the distances in mm it leaves. Level
    edges and middles are `x` to the right and `y` down of each other; "before", "after", "above" and
    "below" leave that much clear between the two boxes. The thing follows when the result changes.
    It is flipped sideways first, then turned: `rotate` is in degrees clockwise.

    With `as_wide` or `as_tall` it is as wide or tall as that result, and its own size does not count.
    """

    x: FiniteFloat = ranged(0.0, -5000.0, 5000.0, scales="size")
    y: FiniteFloat = ranged(0.0, -5000.0, 5000.0, scales="size")
    on: Ref | None = None
    across: Literal["middle", "left", "right", "before", "after"] = "middle"
    down: Literal["middle", "top", "bottom", "above", "below"] = "middle"
    rotate: FiniteFloat = ranged(0.0, -360.0, 360.0, step=1.0)
    flip: bool = False
    as_wide: Ref | None = None
    as_tall: Ref | None = None

    @property
    def refs(self) -> list[str]:
        """The results it refers to."""
        return [ref for ref in (self.on, self.as_wide, self.as_tall) if ref]


class OwnLetter(Strict):
    """What one letter of a row has of its own, changed by hand; the rest of the row stays automatic.

    `at` is its first character's place in the row's text as typed, from 0. `x` and `y` move it by mm at
    the size it is cut, after all letters are spaced; turned and resized letters are spaced as they are.
    """

    at: Annotated[int, Field(ge=0, le=199)]
    x: FiniteFloat = ranged(0.0, -3000.0, 3000.0, scales="size")
    y: FiniteFloat = ranged(0.0, -3000.0, 3000.0, scales="size")
    #: degrees clockwise about its middle
    turn: FiniteFloat = ranged(0.0, -180.0, 180.0, step=1.0)
    #: percent of the width and height it would have
    wide: FiniteFloat = ranged(100.0, 10.0, 500.0, step=1.0)
    tall: FiniteFloat = ranged(100.0, 10.0, 500.0, step=1.0)
    #: another form from the font: an OpenType feature, and which of its forms ("salt", "aalt=3")
    form: Annotated[str, Field(pattern=r"^[A-Za-z0-9]{4}(=\d{1,2})?$")] | None = None


class Row(Strict):
    """A row of words; what it leaves out it shares with the other rows."""

    text: Annotated[str, Field(max_length=200)] = ""
    font: Annotated[str, Field(max_length=80)] | None = None
    #: in mm
    size: FiniteFloat | None = ranged(None, 1.0, 3000.0, step=1.0, scales="size")
    fit: Literal["wide", "tall"] | None = None
    #: width over height, in percent of how the font has it
    stretch: FiniteFloat = ranged(100.0, 20.0, 500.0, step=1.0)
    #: between letters, in mm
    gap: FiniteFloat | None = ranged(None, -20.0, 200.0, scales="measure")
    spacing: Literal["clear", "font"] | None = None
    #: to the row above
    above: Gap | None = ranged(None, -200.0, 500.0, step=0.5, scales="measure")
    own: Annotated[list[OwnLetter], Field(max_length=200)] = []


class Line(Strict):
    """What every kind of line has."""

    id: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,24}$")]
    off: bool = False
    #: held in its place: neither hand nor key moves it by accident
    locked: bool = False

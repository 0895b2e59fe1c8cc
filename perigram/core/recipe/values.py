"""The values in a line's sentence: what kind of thing each is, its range and how it is shown.

Ranges are not enforced when a design is read: a value out of range is a finding on its line, and
the rest of the design still evaluates. They travel to the interface in the fields' extra schema.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, FiniteFloat

#: "line id/result name" of an earlier line.
Ref = Annotated[str, Field(max_length=80)]


def slot(kind: str, label: str, default: Any, **extra: Any) -> Any:
    """A value in a sentence. `extra` holds what the editor needs: low, high, step, choices."""
    return Field(default, json_schema_extra={"slot": kind, "label": label, **extra})


def length(label: str, default: float, low: float, high: float, step: float = 0.1) -> Any:
    """A length in mm."""
    return slot("length", label, default, low=low, high=high, step=step)


class Strict(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Gap(Strict):
    """A gap between rows, in mm or as a percentage of the rows' height."""

    value: FiniteFloat = 3.0
    of: Literal["mm", "percent"] = "mm"


class Place(Strict):
    """Where a thing is: its middle from the design's origin or, with `on`, in relation to that result.

    `across` and `down` say which relation holds; `x` and `y` are the distances in mm it leaves. Level
    edges and middles are `x` to the right and `y` down of each other; "before", "after", "above" and
    "below" leave that much clear between the two boxes. The thing follows when the result changes.
    It is flipped sideways first, then turned: `rotate` is in degrees clockwise.
    """

    x: FiniteFloat = 0.0
    y: FiniteFloat = 0.0
    on: Ref | None = None
    across: Literal["middle", "left", "right", "before", "after"] = "middle"
    down: Literal["middle", "top", "bottom", "above", "below"] = "middle"
    rotate: FiniteFloat = 0.0
    flip: bool = False


class Row(Strict):
    """A row of words; what it leaves out it shares with the other rows."""

    text: Annotated[str, Field(max_length=200)] = ""
    font: Annotated[str, Field(max_length=80)] | None = None
    #: in mm, 1 to 3000
    size: FiniteFloat | None = None
    #: width over height, in percent of how the font has it, 20 to 500
    stretch: FiniteFloat = 100.0


class Line(Strict):
    """What every kind of line has."""

    id: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,24}$")]
    off: bool = False

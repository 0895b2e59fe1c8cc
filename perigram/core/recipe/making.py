"""What a design says of its making: how its plies lie on sheets, and how its materials are pressed."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from perigram.core.recipe.values import Strict, ranged

Marks = Literal["none", "crosses", "corners", "pins"]
Split = Literal["no", "butt", "overlap"]
Peel = Literal["hot", "warm", "cold"]
Pressure = Literal["light", "medium", "firm"]

#: Whatever is asked for, what is cut lies so many mm apart: along a shared edge the blade would go twice.
LEAST = 0.5


class Sheets(Strict):
    """How plies lie on the sheets they are cut from."""

    #: how often the whole design is made
    copies: Annotated[int, Field(ge=1, le=500)] = 1
    #: every ply at the same place of its sheet, or each laid so that little is used up
    layout: Literal["registered", "packed"] = "registered"
    #: packed: what stays together
    keeps: Literal["designs", "pieces"] = "designs"
    #: packed: whether what is laid may be turned by quarters
    turned: bool = True
    #: registered: a design larger than its sheets is cut in parts that meet, or overlap by so much
    split: Split = "no"
    overlap: FiniteFloat = ranged(10.0, 1.0, 100.0)
    apart: FiniteFloat = ranged(5.0, LEAST, 100.0)
    edge: FiniteFloat = ranged(8.0, 0.0, 100.0)
    marks: Marks = "crosses"
    #: a rectangle cut round each design, so that what is not wanted lifts in one
    border: bool = False
    #: within that rectangle, straight cuts through large waste so far from each other in mm; none at 0
    across: FiniteFloat = ranged(0.0, 0.0, 500.0, step=5.0)
    #: a rectangle along the edges of every sheet, for machines that move work to where it begins
    frame: bool = False


class Pressing(Strict):
    """How a material is pressed; values in a shop's own materials are its own."""

    #: seconds that let its carrier be lifted, and that make it hold for good
    tack: FiniteFloat = ranged(4.0, 0.0, 120.0, step=1.0)
    full: FiniteFloat = ranged(10.0, 0.0, 120.0, step=1.0)
    #: degrees Celsius
    heat: FiniteFloat = ranged(150.0, 40.0, 230.0, step=1.0)
    pressure: Pressure = "medium"
    peel: Peel = "warm"
    #: seconds of heat it takes in all before it suffers
    most: FiniteFloat = ranged(40.0, 1.0, 600.0, step=1.0)
    #: nothing may be pressed over it: glitter, flock, foil
    last: bool = False
    notes: Annotated[str, Field(max_length=300)] = ""

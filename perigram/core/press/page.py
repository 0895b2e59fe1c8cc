"""The press plan as a PDF to hang beside the press.

Paper is ISO 216 A4 (210 by 297 mm) where the shop works in mm, and US Letter (8.5 by 11 in) where in inches.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO

import numpy as np
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import simpleSplit
from reportlab.pdfbase.pdfmetrics import registerFont, stringWidth
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from perigram.core.geometry import measure
from perigram.core.geometry.region import Region
from perigram.core.press.plan import Plan, Step

POINTS_PER_MM = 72.0 / 25.4
_SIZES = {"mm": (210.0, 297.0), "in": (215.9, 279.4)}
#: Sides in mm of the margin, of a step's row and of its picture.
_MARGIN, _ROW, _PICTURE = 16.0, 27.0, (32.0, 22.0)
_INK, _SOFT, _LINE, _PLUM = (HexColor(one) for one in ("#26202B", "#6F6673", "#DED5C4", "#56305F"))
_REGULAR, _BOLD = "Paper", "Paper bold"


@dataclass(frozen=True, eq=False)
class Shown:
    """A ply in the pictures: its id, colour and outlines."""

    id: str
    colour: str
    region: Region


@dataclass(frozen=True)
class Head:
    """What stands above the plan: the design, what it is pressed on and that ground's colour, the unit."""

    title: str
    about: str
    ground: str
    unit: str


def plan_pdf(plan: Plan, head: Head, plies: Sequence[Shown], fonts: tuple[bytes, bytes]) -> bytes:
    """The plan on as many pages as it takes; equal input gives equal bytes.

    Args:
        plies: from the bottom up.
        fonts: TrueType files of the regular and the bold face.
    """
    for name, data in zip((_REGULAR, _BOLD), fonts, strict=True):
        registerFont(TTFont(name, BytesIO(data)))
    width, height = _SIZES[head.unit]
    out = BytesIO()
    canvas = Canvas(out, pagesize=(width * POINTS_PER_MM, height * POINTS_PER_MM), invariant=1)
    canvas.setTitle(f"Press plan: {head.title}")
    page = _Page(canvas, width, height)
    page.heading(plan, head)
    for number, step in enumerate(plan.steps, 1):
        page.step(number, step, head, plies)
    page.foot(plan)
    canvas.save()
    return out.getvalue()


class _Page:
    """Writes from the top down in mm, on to a new page where one is full."""

    def __init__(self, canvas: Canvas, width: float, height: float) -> None:
        self.canvas, self.width, self.height = canvas, width, height
        self.at = _MARGIN

    def heading(self, plan: Plan, head: Head) -> None:
        right = f"{plan.seconds:g} s of heat" if plan.seconds else ""
        room = self.width - 2.0 * _MARGIN - 45.0
        for line in _lines(head.title, _BOLD, 18.0, room)[:2]:
            self.text(_MARGIN, self.at + 6.0, line, _BOLD, 18.0)
            self.at += 8.0
        self.text(self.width - _MARGIN, _MARGIN + 6.0, right, _BOLD, 12.0, align="right")
        self.text(_MARGIN, self.at + 3.5, head.about, _REGULAR, 10.0, _SOFT)
        self.at += 7.0
        self.rule()

    def step(self, number: int, step: Step, head: Head, plies: Sequence[Shown]) -> None:
        self.room_for(_ROW)
        top = self.at + 2.5
        self.text(_MARGIN, top + 7.0, str(number), _BOLD, 14.0, _PLUM)
        self.picture(_MARGIN + 9.0, top, [ply for ply in plies if ply.id in step.shown], plies, head.ground)
        left = _MARGIN + 9.0 + _PICTURE[0] + 6.0
        wide = self.width - left - _MARGIN - 24.0
        down = top + 5.0
        for line in _lines(step.title, _BOLD, 11.0, wide)[:2]:
            self.text(left, down, line, _BOLD, 11.0)
            down += 5.0
        for line in _lines(step.text, _REGULAR, 9.0, wide)[:4]:
            self.text(left, down, line, _REGULAR, 9.0, _SOFT)
            down += 4.2
        if step.seconds is not None:
            self.text(self.width - _MARGIN, top + 6.0, f"{step.seconds:g} s", _BOLD, 13.0, align="right")
            self.text(self.width - _MARGIN, top + 11.0, f"{step.heat:g} °C", _REGULAR, 10.0, align="right")
        self.at += _ROW
        self.rule()

    def foot(self, plan: Plan) -> None:
        """What to look out for."""
        for one in plan.warnings:
            opening = "Cannot be made so" if one.level == "stop" else "Look out"
            lines = _lines(f"{opening}: {one.text.rstrip('.')}.", _BOLD, 9.5, self.width - 2.0 * _MARGIN)
            self.room_for(4.6 * len(lines) + 2.0)
            self.at += 2.0
            for line in lines:
                self.at += 4.6
                self.text(_MARGIN, self.at, line, _BOLD, 9.5)

    def room_for(self, height: float) -> None:
        if self.at + height > self.height - _MARGIN:
            self.canvas.showPage()
            self.at = _MARGIN

    def rule(self) -> None:
        self.canvas.setStrokeColor(_LINE)
        self.canvas.setLineWidth(0.5)
        y = (self.height - self.at) * POINTS_PER_MM
        self.canvas.line(_MARGIN * POINTS_PER_MM, y, (self.width - _MARGIN) * POINTS_PER_MM, y)

    def text(
        self,
        x: float,
        y: float,
        text: str,
        font: str,
        size: float,
        colour: HexColor = _INK,
        align: str = "left",
    ) -> None:
        self.canvas.setFont(font, size)
        self.canvas.setFillColor(colour)
        at = x * POINTS_PER_MM - (stringWidth(text, font, size) if align == "right" else 0.0)
        self.canvas.drawString(at, (self.height - y) * POINTS_PER_MM, text)

    def picture(
        self, x: float, y: float, shown: Sequence[Shown], every: Sequence[Shown], ground: str
    ) -> None:
        """The ground, and the plies that lie on it by then."""
        wide, high = _PICTURE
        scale = POINTS_PER_MM
        self.canvas.setFillColor(HexColor(ground))
        corner = x * scale, (self.height - y - high) * scale
        self.canvas.roundRect(*corner, wide * scale, high * scale, 3.0, stroke=0, fill=1)
        box = measure.union_box([measure.bounds(ply.region) for ply in every])
        if box is None:
            return
        x0, y0, x1, y1 = box
        fit = 0.86 * min(wide / max(x1 - x0, 1e-9), high / max(y1 - y0, 1e-9))
        shift = np.array([x + wide / 2.0 - fit * (x0 + x1) / 2.0, y + high / 2.0 - fit * (y0 + y1) / 2.0])
        for ply in shown:
            points = (ply.region.segments * fit + shift) * [1.0, -1.0] + [0.0, self.height]
            self.outlines(np.round(points * scale, 3), ply.region, ply.colour)

    def outlines(self, points: np.ndarray, region: Region, colour: str) -> None:
        path = self.canvas.beginPath()
        straight = region.straight
        for loop in region.loop_slices():
            path.moveTo(*points[loop.start, 0].tolist())
            for k in range(loop.start, loop.stop):
                if straight[k]:
                    path.lineTo(*points[k, 3].tolist())
                else:
                    path.curveTo(*points[k, 1:].ravel().tolist())
            path.close()
        self.canvas.setFillColor(HexColor(colour))
        self.canvas.drawPath(path, stroke=0, fill=1, fillMode=0)


def _lines(text: str, font: str, size: float, width: float) -> list[str]:
    return list(simpleSplit(text, font, size, width * POINTS_PER_MM))

"""Drawings put together at random from what SVG 2 has of shapes, looks, structure and clips."""

from __future__ import annotations

from random import Random

_DARK = ("black", "#123", "rgb(20,30,40)", "navy", "hsl(10,50%,20%)", "currentColor", "#102030ff")
_WHERE = ("style", "attribute", "attribute", "class", "two classes", "tag", "id", "important")
_ASPECTS = ("none", "xMinYMin", "xMaxYMax slice", "xMidYMid meet", "xMidYMin slice")


def document(seed: int, percent: bool = False) -> str:
    """A drawing 100 by 100 px, of dark paint only.

    With `percent`, lengths are in percent too; within symbols renderers differ in what those are of.
    """
    return _Drawing(Random(seed), percent).whole()


class _Drawing:
    def __init__(self, r: Random, percent: bool) -> None:
        self._r = r
        self._units = ["", "", "", "", "", "mm", "pt", "em", *(["%"] if percent else [])]
        self._names = 0
        self._defs: list[str] = []
        self._rules: list[str] = []

    def whole(self) -> str:
        body = "".join(self._thing(0) for _ in range(self._r.randint(1, 5)))
        root = self._r.choice(["", ' fill="#111"', ' stroke="black" stroke-width="1.5"'])
        return (
            '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
            f'viewBox="0 0 100 100" width="100" height="100"{root}><style>{" ".join(self._rules)}</style>'
            f"<defs>{''.join(self._defs)}</defs>{body}</svg>"
        )

    def _often(self, share: float) -> bool:
        return self._r.random() < share

    def _name(self) -> str:
        self._names += 1
        return f"n{self._names}"

    def _number(self, low: float, high: float) -> str:
        value = self._r.uniform(low, high)
        return f"{value:.2e}" if self._often(0.05) else f"{value:.{self._r.randint(0, 2)}f}"

    def _numbers(self, count: int, low: float, high: float) -> str:
        return self._r.choice([" ", ",", ", "]).join(self._number(low, high) for _ in range(count))

    def _length(self, low: float, high: float) -> str:
        unit = self._r.choice(self._units)
        px = {"mm": 96.0 / 25.4, "pt": 4.0 / 3.0, "em": 16.0}.get(unit, 1.0)
        return f"{self._r.uniform(low, high) / px:.2f}{unit}"

    def _lengths(self, **ranges: tuple[float, float]) -> str:
        return "".join(f' {name}="{self._length(*ends)}"' for name, ends in ranges.items())

    def _transform(self) -> str:
        n = self._number
        return self._r.choice(
            [
                f"translate({n(-20, 20)} {n(-20, 20)})",
                f"rotate({n(-90, 90)},{n(20, 80)},{n(20, 80)})",
                f"scale({n(0.4, 1.5)}) skewX({n(-30, 30)})",
                f"translate(0 90) scale({n(0.4, 1.3)} {n(-1.2, -0.4)})",
                f"matrix({n(0.5, 1.2)} {n(-0.4, 0.4)} {n(-0.4, 0.4)} {n(0.5, 1.2)} {n(-9, 9)} {n(-9, 9)})",
            ]
        )

    def _path(self) -> str:
        data = f"M{self._numbers(2, 5, 95)}"
        counts = {"L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "M": 2, "Z": 0}
        for command in self._r.choices("LHVCSQTAZM", k=self._r.randint(2, 6)):
            relative = self._often(0.5)
            low, high = (-40, 40) if relative else (0, 100)
            said = command.lower() if relative else command
            if command == "A":
                flags = f"{self._r.randint(0, 1)},{self._r.randint(0, 1)}"
                data += f"{said}{self._numbers(2, 5, 40)} {self._number(-90, 90)} {flags} "
                data += self._numbers(2, low, high)
            else:
                data += said + self._numbers(counts[command], low, high)
        return data + ("z" if self._often(0.5) else "")

    def _shape(self) -> str:
        """An element's name and geometry."""
        kind = self._r.choice(["rect", "circle", "ellipse", "line", "polyline", "polygon", "path", "path"])
        if kind == "rect":
            own = self._lengths(x=(0, 60), y=(0, 60), width=(5, 60), height=(5, 60))
            own += self._lengths(rx=(0, 40)) if self._often(0.4) else ""
            return "rect" + own + (self._lengths(ry=(0, 40)) if self._often(0.3) else "")
        if kind == "circle":
            return "circle" + self._lengths(cx=(10, 90), cy=(10, 90), r=(3, 40))
        if kind == "ellipse":
            own = self._lengths(cx=(10, 90), cy=(10, 90), rx=(3, 40))
            return "ellipse" + own + (self._lengths(ry=(3, 40)) if self._often(0.8) else "")
        if kind == "line":
            return "line" + self._lengths(x1=(0, 99), y1=(0, 99), x2=(0, 99), y2=(0, 99))
        if kind == "path":
            return f'path d="{self._path()}"'
        return f'{kind} points="{self._numbers(2 * self._r.randint(2, 6), 0, 100)}"'

    def _look(self, kind: str, named: bool = False) -> str:
        """Properties said of an element in any of the ways there are; `named` ones have an id already."""
        r, dark = self._r, self._r.choice(_DARK)
        choices = {
            "fill": (0.5, [dark, dark, "none", "transparent", "inherit"]),
            "stroke": (0.4, [dark, dark, "none", "inherit"]),
            "stroke-width": (0.4, [self._length(0.8, 9)]),
            "stroke-linejoin": (0.2, ["miter", "round", "bevel"]),
            "stroke-linecap": (0.2, ["butt", "round", "square"]),
            "stroke-miterlimit": (0.1, [self._number(1, 8)]),
            "stroke-dasharray": (0.1, [self._numbers(r.randint(1, 4), 1, 20)]),
            "stroke-dashoffset": (0.05, [self._number(-20, 20)]),
            "fill-rule": (0.25, ["evenodd", "nonzero"]),
            "display": (0.05, ["none", "inline", "block"]),
            "visibility": (0.1, ["hidden", "visible", "collapse", "inherit"]),
            "opacity": (0.05, ["0", "1", "100%"]),
            "fill-opacity": (0.05, ["0", "1"]),
            "stroke-opacity": (0.05, ["0", "1"]),
            "color": (0.1, ["black", "#321"]),
            "font-size": (0.1, ["10px", "20", "2em", "150%"]),
        }
        said = {name: r.choice(values) for name, (share, values) in choices.items() if self._often(share)}
        where = r.choice(_WHERE[:4] if named else _WHERE)
        words = ";".join(f"{name}:{value}" for name, value in said.items())
        if not said:
            return ""
        if where == "attribute":
            return "".join(f' {name}="{value}"' for name, value in said.items())
        if where == "style":
            return f' style="{words}"'
        name = self._name()
        selector = {"two classes": f".{name}.other", "tag": f"{kind}.{name}", "id": f"#{name}"}
        late = f"{words.replace(';', ' !important;')} !important" if where == "important" else words
        self._rules.append(f"{selector.get(where, '.' + name)}{{{late}}}")
        return f' id="{name}"' if where == "id" else f' class="{name} other"'

    def _within(self) -> str:
        """A clip, a mask and a transform, seldom all."""
        clip = f' clip-path="url(#{self._clip()})"' if self._often(0.12) else ""
        mask = f' mask="url(#{self._mask()})"' if self._often(0.06) else ""
        return clip + mask + (f' transform="{self._transform()}"' if self._often(0.25) else "")

    def _unit(self) -> str:
        """A light shape in a box of one by one."""
        a, b, c, d = (f"{self._r.uniform(0.1, 0.8):.2f}" for _ in range(4))
        return self._r.choice(
            [
                f'<rect x="{a}" y="{b}" width="{c}" height="{d}" fill="white" stroke="none"/>',
                f'<ellipse cx="{a}" cy="{b}" rx="{c}" ry="{d}" fill="white" stroke="none"/>',
            ]
        )

    def _clip(self) -> str:
        name, inner, own = self._name(), "", ""
        for _ in range(self._r.randint(1, 2)):
            shape, rule = self._shape(), self._r.choice(["", ' clip-rule="evenodd"'])
            if self._often(0.15):
                used = self._name()
                self._defs.append(f'<{shape} id="{used}"{self._look("path", named=True)}/>')
                inner += f'<use href="#{used}" x="{self._number(-10, 10)}"{rule}/>'
            else:
                odd = ["", "", ' fill="none"', ' opacity="0"', ' visibility="hidden"']
                inner += f"<{shape}{rule}{self._r.choice(odd)}/>"
        if self._often(0.2):
            own, inner = ' clipPathUnits="objectBoundingBox"', self._unit()
        own += f' transform="{self._transform()}"' if self._often(0.2) and not own else ""
        own += f' clip-path="url(#{self._clip()})"' if self._often(0.15) else ""
        self._defs.append(f'<clipPath id="{name}"{own}>{inner}</clipPath>')
        return name

    def _mask(self) -> str:
        name, inner = self._name(), ""
        own = self._r.choice(["", ' x="-20%" width="70%"', ' maskUnits="userSpaceOnUse" y="0" height="60"'])
        own += ' style="mask-type:alpha"' if self._often(0.2) else ""
        for _ in range(self._r.randint(1, 3)):
            inner += f'<{self._shape()} fill="{self._r.choice(["white", "#fff", "black"])}" stroke="none"/>'
        if self._often(0.2):
            own, inner = own + ' maskContentUnits="objectBoundingBox"', self._unit() + self._unit()
        self._defs.append(f'<mask id="{name}"{own}>{inner}</mask>')
        return name

    def _frame(self) -> str:
        view = f' viewBox="{self._numbers(2, -10, 10)} {self._numbers(2, 40, 110)}"'
        aspect = f' preserveAspectRatio="{self._r.choice(_ASPECTS)}"' if self._often(0.4) else ""
        return (
            (view if self._often(0.8) else "") + aspect + (' overflow="visible"' if self._often(0.1) else "")
        )

    def _thing(self, depth: int) -> str:
        chance = self._r.random()
        if chance < 0.55 or depth > 3:
            shape = self._shape()
            return f"<{shape}{self._look(shape.split()[0])}{self._within()}/>"
        inner = "".join(self._thing(depth + 1) for _ in range(self._r.randint(1, 3)))
        if chance < 0.75:
            return f"<g{self._look('g')}{self._within()}>{inner}</g>"
        if chance < 0.85:
            return self._used(inner)
        if chance < 0.9:
            frame = self._lengths(x=(0, 30), y=(0, 30), width=(30, 80), height=(30, 80)) + self._frame()
            return f"<svg{frame}>{inner}</svg>"
        if chance < 0.94:
            return f'<switch><g systemLanguage="xx">{self._thing(depth + 1)}</g><g>{inner}</g></switch>'
        return f"<a{self._look('a')}>{inner}</a>" if chance < 0.98 else f"<defs>{inner}</defs>"

    def _used(self, inner: str) -> str:
        name, size = self._name(), ""
        if self._often(0.5):
            self._defs.append(f'<symbol id="{name}"{self._frame()}>{inner}</symbol>')
            size = self._lengths(width=(20, 90), height=(20, 90)) if self._often(0.7) else ""
        else:
            self._defs.append(f'<g id="{name}"{self._look("g", named=True)}>{inner}</g>')
        moved = self._lengths(x=(-10, 30), y=(-10, 30)) if self._often(0.6) else ""
        href = self._r.choice(["href", "xlink:href"])
        return f'<use {href}="#{name}"{moved}{size}{self._look("use")}{self._within()}/>'

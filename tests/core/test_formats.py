"""Cut files read back by libraries that are not ours: which way up, which way round, and where."""

from __future__ import annotations

from io import StringIO

import ezdxf
import ezdxf.path
import pytest
import shapely
import svgelements
from shapely import affinity

from perigram.core.formats.bundle import cut_files
from perigram.core.recipe.design import Design, read_design
from perigram.core.recipe.evaluate import evaluate
from perigram.library import DesignSources

from .material import evenodd

#: Letters with neither an axis nor a point of symmetry, of lines and of curves.
LOPSIDED = "FGJR"


def design(mirrored: bool, font: str = "anton") -> Design:
    """Letters, and a box above and to the left of them on a ply of its own."""
    return read_design(
        {
            "format": "perigram",
            "version": 2,
            "name": "ways",
            "materials": [
                {"id": "m", "name": "Vinyl", "kind": "vinyl", "colour": "#202020", "mirrored": mirrored}
            ],
            "recipe": [
                {"id": "l1", "kind": "letter", "rows": [{"text": LOPSIDED}], "font": font, "size": 80},
                {
                    "id": "l2",
                    "kind": "shape",
                    "figure": "rounded box",
                    "width": 9,
                    "height": 4,
                    "radius": 0,
                    "place": {"x": -60, "y": -50},
                },
            ],
            "plies": [
                {"id": "a", "name": "words", "material": "m", "results": ["l1/letters"]},
                {"id": "b", "name": "box", "material": "m", "results": ["l2/shape"]},
            ],
        }
    )


def read_svg(content: bytes) -> tuple[shapely.Geometry, float, float]:
    picture = svgelements.SVG.parse(StringIO(content.decode()), ppi=25.4)
    rings = []
    for element in picture.elements():
        if isinstance(element, svgelements.Path):
            for loop in element.as_subpaths():
                points = [segment.point(i / 64) for segment in list(loop)[1:] for i in range(64)]
                rings.append(shapely.Polygon([(p.x, p.y) for p in points]))
    return evenodd(rings), float(picture.width), float(picture.height)


def read_dxf(content: bytes) -> shapely.Geometry:
    document = ezdxf.read(StringIO(content.decode("cp1252")))
    loops = [ezdxf.path.make_path(entity) for entity in document.modelspace()]
    return evenodd([shapely.Polygon([(v.x, v.y) for v in loop.flattening(1e-4)]) for loop in loops])


@pytest.mark.parametrize("font", ["anton", "lobster"])
@pytest.mark.parametrize("mirrored", [False, True])
def test_both_formats_say_the_same_shape_the_right_way_up(mirrored: bool, font: str) -> None:
    what = design(mirrored, font)
    proof = evaluate(what, DesignSources(what))
    files = cut_files("ways", proof.to_cut(), ["svg", "dxf"])
    assert proof.bounds
    x0, y0, x1, y1 = proof.bounds
    for ply in proof.plies:
        seen = ply.region.flattened(0.0005).multipolygon()
        # As on the proof, from the corner of all there is; a mirrored ply is turned over left to right.
        sense, from_x = (-1, x1) if mirrored else (1, -x0)
        page = affinity.affine_transform(seen, [sense, 0, 0, 1, from_x, -y0])
        named = {n.rsplit(".", 1)[1]: c for n, c in files.items() if f"- {ply.ply.name} -" in n}
        svg, width, height = read_svg(named["svg"])
        assert (width, height) == pytest.approx((x1 - x0, y1 - y0), abs=2e-3)
        # DXF counts from the foot of the page upwards.
        dxf = affinity.affine_transform(read_dxf(named["dxf"]), [1, 0, 0, -1, 0, height])
        for read in (svg, dxf):
            assert shapely.area(shapely.symmetric_difference(read, page)) < 2e-3 * shapely.area(page)
            assert read.bounds == pytest.approx(page.bounds, abs=2e-3)

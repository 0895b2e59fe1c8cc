"""What designs should come to, worked out by GEOS from the files of their sources alone."""

from __future__ import annotations

from typing import Any

import shapely


def source_designs(body: dict[str, Any]) -> dict[str, Any]:
    """The design with a ply for each of its letters and pictures alone, on its own material, not mirrored."""
    recipe = [line for line in body["recipe"] if line["kind"] in ("letter", "art")]
    material = {**body["materials"][0], "mirrored": False}
    plies = [
        {"id": "p-letters", "name": "letters", "material": "m", "results": ["l1/letters"]},
        {"id": "p-art", "name": "art", "material": "m", "results": ["l2/art"]},
    ]
    return {**body, "recipe": recipe, "materials": [material], "plies": plies}


#: Widths in mm round that below which nothing is cut apart; none at all first.
HAIRS = (0.0, 0.008, 0.01, 0.012)


def expected(body: dict[str, Any], letters: Any, art: Any, hairs: float) -> dict[str, Any]:
    """The results of the design's knockout and backing, by reference, as GEOS geometries.

    What is thinner than `hairs` mm, or nearer than that, is gone from what is grown before that.
    """
    made = {"l1/letters": letters, "l2/art": art}
    for line in body["recipe"]:
        if line["kind"] == "knock_out":
            picture, target = made[line["picture"]], made[line["target"]]
            cutter = _without_hairs(picture, hairs)
            cutter = _filled(cutter) if line["holes"] == "filled" else cutter
            cutter = _grown(cutter, line["clearance"])
            made["l3/remains"] = shapely.difference(target, cutter)
            within = shapely.intersection(picture, target)
            made["l3/shows"] = within if line["shows"] == "within" else picture
        elif line["kind"] == "back" and line["corners"] == "round":
            source = shapely.union_all([made[ref] for ref in line["of"]], grid_size=1e-8)
            backing = _grown(_without_hairs(source, hairs), line["distance"])
            made["l4/backing"] = _filled(backing) if line["holes"] == "filled" else backing
    return made


def _grown(shape: Any, distance: float) -> Any:
    # GEOS leaves out vertices first; where edges are long that may move them by a tenth of the distance, and
    # once it was 3 mm of 42 while edges were cut as long as that.
    return shapely.buffer(shapely.segmentize(shape, max(0.5, abs(distance) / 8.0)), distance, quad_segs=32)


def _without_hairs(shape: Any, width: float) -> Any:
    if width == 0.0:
        return shape
    closed = shapely.buffer(shapely.buffer(shape, width / 2), -width / 2)
    return shapely.buffer(shapely.buffer(closed, -width / 2), width / 2)


def disagreement(cut: Any, wanted: list[Any], distance: float) -> float:
    """Area in mm^2 in which a ply differs from all of what may be wanted by more than they could know.

    GEOS simplifies what it buffers by 1 % of the distance, and a ply welds what is nearer than 0.01 mm.
    """
    blur = 0.05 + 0.06 * abs(distance)
    off = shapely.box(*shapely.total_bounds([cut, *wanted])) if wanted else cut
    for one in wanted:
        # What is narrower than the blur goes first: what is left of nearly the same outlines is little.
        off = shapely.intersection(off, shapely.buffer(shapely.symmetric_difference(cut, one), -blur / 2))
        if off.is_empty:
            return 0.0
    return float(shapely.area(off))


def _filled(shape: Any) -> Any:
    parts = shapely.get_parts(shape)
    parts = parts[shapely.get_type_id(parts) == 3]
    rings = shapely.get_exterior_ring(parts)
    return shapely.union_all(shapely.polygons(rings), grid_size=1e-8) if len(rings) else shape

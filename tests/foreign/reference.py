"""What designs should come to, worked out by GEOS from the files of their sources alone."""

from __future__ import annotations

from typing import Any

import shapely

from .judge import apart


def source_designs(body: dict[str, Any]) -> dict[str, Any]:
    """The design with a ply for each of its letters and pictures alone, on its own material, not mirrored."""
    recipe = [line for line in body["recipe"] if line["kind"] in ("letter", "art")]
    material = {**body["materials"][0], "mirrored": False}
    plies = [
        {"id": "p-letters", "name": "letters", "material": "m", "results": ["l1/letters"]},
        {"id": "p-art", "name": "art", "material": "m", "results": ["l2/art"]},
    ]
    return {**body, "recipe": recipe, "materials": [material], "plies": plies}


def expected(body: dict[str, Any], letters: Any, art: Any) -> dict[str, Any]:
    """The results of the design's knockout and backing, by reference, as GEOS geometries."""
    made = {"l1/letters": letters, "l2/art": art}
    for line in body["recipe"]:
        if line["kind"] == "knock_out":
            picture, target = made[line["picture"]], made[line["target"]]
            cutter = _filled(picture) if line["holes"] == "filled" else picture
            cutter = shapely.buffer(cutter, line["clearance"], quad_segs=32)
            made["l3/remains"] = shapely.difference(target, cutter)
            within = shapely.intersection(picture, target)
            made["l3/shows"] = within if line["shows"] == "within" else picture
        elif line["kind"] == "back" and line["corners"] == "round":
            source = shapely.union_all([made[ref] for ref in line["of"]])
            # What is nearer than can be cut apart is one before it is grown or shrunk.
            source = shapely.buffer(shapely.buffer(source, 0.0055), -0.0055)
            backing = shapely.buffer(source, line["distance"], quad_segs=32)
            made["l4/backing"] = _filled(backing) if line["holes"] == "filled" else backing
    return made


def disagreement(cut: Any, wanted: Any, distance: float) -> float:
    """Area in mm^2 in which a ply differs from what was wanted by more than the two could know.

    GEOS simplifies what it buffers by 1 % of the distance, and a ply welds what is nearer than 0.01 mm.
    """
    return apart(cut, wanted, 0.05 + 0.06 * abs(distance))


def _filled(shape: Any) -> Any:
    parts = shapely.get_parts(shape)
    parts = parts[shapely.get_type_id(parts) == 3]
    rings = shapely.get_exterior_ring(parts)
    return shapely.union_all(shapely.polygons(rings)) if len(rings) else shape

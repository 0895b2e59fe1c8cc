"""Knockout recompute beside the bare GEOS call on the same vertices, and how it grows with letters.

Run: python -m benchmarks.knockout
"""

from __future__ import annotations

import resource

import shapely

from benchmarks.material import crowd, fresh, heavy, median_ms, script
from perigram.core.geometry import Region, cut_away, divide, overlap
from perigram.core.geometry.offset import grow


def compare(name: str, a: Region, b: Region) -> None:
    ga, gb = a.multipolygon, b.multipolygon
    geos = median_ms(lambda: shapely.difference(ga, gb))
    both = median_ms(lambda: (shapely.difference(ga, gb), shapely.intersection(ga, gb)))
    ours = median_ms(lambda: cut_away(fresh(a), fresh(b)))
    halves = median_ms(lambda: divide(fresh(a), fresh(b)))
    nodes = cut_away(a, b).node_count
    vertices = len(shapely.get_coordinates(shapely.difference(ga, gb)))
    print(
        f"{name:<28}{geos:8.1f}{ours:8.1f}{ours / geos:7.1f}x{both:9.1f}{halves:8.1f}{halves / both:7.1f}x"
        f"{vertices:9d}{nodes:7d}"
    )


def main() -> None:
    print("Flatten, overlay and restore beside bare GEOS on the same vertices (median ms of 15)")
    heads = ("GEOS", "ours", "ratio", "GEOS 2", "halves", "ratio", "vertices", "nodes")
    print(" " * 28 + "".join(f"{h:>{w}}" for h, w in zip(heads, (8, 8, 8, 9, 8, 8, 9, 7), strict=True)))
    words, names = heavy(), script()
    compare("39 heavy under 28 script", words, names)
    for letters in (10, 30, 100, 300, 1000):
        compare(f"{letters} letters", *crowd(letters))
    print("\nGrow beside bare GEOS buffer of equal accuracy (median ms of 15)")
    print(f"{'':<28}{'GEOS':>8}{'ours':>8}{'ratio':>8}{'vertices':>9}{'nodes':>7}")
    for name, region in (("39 heavy", words), ("28 script", names)):
        for distance in (0.5, 1.8, 6.0, -0.5):
            # Chords of a quarter circle of n segments lie d (1 - cos(pi / 4n)) off it: 0.004 mm here.
            segments = max(4, int(0.7854 / (2 * 0.004 / abs(distance)) ** 0.5) + 1)
            flat = region.flattened(0.004).multipolygon()
            geos = median_ms(lambda g=flat, d=distance, n=segments: shapely.buffer(g, d, quad_segs=n))  # type: ignore[misc]
            ours = median_ms(lambda r=region, d=distance: grow(fresh(r), d), 7)  # type: ignore[misc]
            grown = grow(region, distance)
            vertices = len(shapely.get_coordinates(shapely.buffer(flat, distance, quad_segs=segments)))
            print(
                f"{name + f' by {distance:g} mm':<28}{geos:8.1f}{ours:8.1f}{ours / geos:7.1f}x{vertices:9d}"
                f"{grown.node_count:7d}"
            )
    assert not overlap(words, names).is_empty
    print(f"\nPeak memory {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")


if __name__ == "__main__":
    main()

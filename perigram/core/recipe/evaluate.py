"""`evaluate(design) -> Proof`: every line's results, every ply, and what there is to say about them."""

from __future__ import annotations

import hashlib
import json
import logging
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from perigram.core.check.findings import Finding, Mend, check_ply
from perigram.core.errors import PerigramError
from perigram.core.formats.page import CutPly
from perigram.core.geometry import measure
from perigram.core.geometry.clean import drop_slivers
from perigram.core.geometry.finish import finished
from perigram.core.geometry.measure import Box
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import Region
from perigram.core.recipe.cache import Cache, Kept
from perigram.core.recipe.design import (
    MOST_LETTERS,
    Design,
    Material,
    Ply,
    letters_in,
    out_of_range,
    references,
    slots_of,
)
from perigram.core.recipe.kinds import Kind, Outcome, Pickable, Shaping, Sources, Tools
from perigram.core.recipe.lines import kind_of
from perigram.core.recipe.parts import Made
from perigram.core.recipe.plies import cut_twice
from perigram.core.recipe.refs import line_of, ref_to
from perigram.core.recipe.values import Line, limits

log = logging.getLogger(__name__)

#: How carefully a design is evaluated.
Care = Literal["rough", "drawn", "checked"]

_NOT_CHOSEN = "Something is not chosen yet: click a value that says “choose”."

_FAILED = (
    "This line could not be worked out, though it should be: something went wrong in Perigram itself. "
    "Change a value of it a little, or switch it off; the rest of the design is not touched."
)


@dataclass(frozen=True)
class Measures:
    """Figures about a region: area in mm^2, length of cut in mm, the rest counts."""

    area: float
    length: float
    pieces: int
    nodes: int

    @staticmethod
    def of(region: Region) -> Measures:
        return Measures(measure.area(region), measure.length(region), region.piece_count, region.node_count)


@dataclass(frozen=True, eq=False)
class Result:
    """One named region a line made; equal keys mean equal regions."""

    ref: str
    key: str
    made: Made

    @property
    def region(self) -> Region:
        return self.made.region


@dataclass(frozen=True, eq=False)
class PlyProof:
    ply: Ply
    material: Material
    key: str
    region: Region
    measures: Measures


@dataclass(frozen=True, eq=False)
class Proof:
    """What a design comes to. `plies` run from bottom to top, `results` in the recipe's order."""

    results: list[Result] = field(default_factory=list)
    plies: list[PlyProof] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    #: by line, how it is shaped by hand, where it can be
    shapings: dict[str, Shaping] = field(default_factory=dict)
    #: by line, what can be picked of it one by one
    pieces: dict[str, Sequence[Pickable]] = field(default_factory=dict)
    #: whether plies have been looked at; if not, findings are of lines alone
    checked: bool = True

    @property
    def bounds(self) -> Box | None:
        """The box of all plies in mm: the finished size, and the origin all cut files share."""
        return measure.union_box([measure.bounds(p.region) for p in self.plies])

    @property
    def is_cuttable(self) -> bool:
        something = any(not p.region.is_empty for p in self.plies)
        return self.checked and something and not any(f.level == "stop" for f in self.findings)

    def to_cut(self) -> list[CutPly]:
        """The plies as they are written to files, from bottom to top.

        Raises:
            PerigramError: when something is in the way of cutting them; the sentence says what.
        """
        stops = [f.text for f in self.findings if f.level == "stop"]
        if stops:
            raise PerigramError("Not cut-ready yet: " + " ".join(stops))
        return [
            CutPly(
                ply.ply.name,
                ply.material.name,
                ply.material.colour,
                ply.material.mirrored,
                ply.region,
                ply.material.width,
                ply.material.length,
                ply.ply.id,
            )
            for ply in self.plies
        ]


def evaluate(design: Design, sources: Sources, cache: Kept | None = None, care: Care = "checked") -> Proof:
    """Evaluate a design, line by line and then ply by ply.

    With less `care` plies are "drawn", but neither finished for cutting nor looked at. In a "rough" proof
    whatever lines make of others' results is made of their chords as well, unless it is held already: that
    takes a fraction of the time, and is enough to see while something is being typed or dragged.

    A line's key is a digest of its kind, its values, its inputs' keys and the state of its sources, so
    with a cache only what a change touches is computed again. A line that cannot be carried out becomes
    a finding; lines that do not need it still come out.
    """
    log.debug("Evaluating %d lines and %d plies", len(design.recipe), len(design.plies))
    cache = cache or Cache()
    proof = Proof(checked=care == "checked")
    results: dict[str, Result] = {}
    roughly = _roughly_drawn(design) if care == "rough" else set()
    for line in design.recipe:
        if line.off:
            results |= _passed_on(line, results, cache)
            continue
        others = _read_by(line, design)
        key = _line_key(line, others, results, sources)
        inputs = {ref: results[ref].made for ref in references(line) if ref in results}
        if line.id in roughly and inputs and cache.held(key) is None:
            key = f"{key}.rough"
            inputs = {ref: _roughly(results[ref], cache) for ref in inputs}
        outcome, findings = _carried_out(line, key, others, inputs, design, sources, cache)
        proof.findings.extend(findings)
        if outcome.shaping:
            proof.shapings[line.id] = outcome.shaping
        if outcome.pieces:
            proof.pieces[line.id] = outcome.pieces
        for name, made in outcome.results.items():
            result = Result(ref_to(line.id, name), f"{key}.{name}", made)
            results[result.ref] = result
            proof.results.append(result)
    for ply in design.plies:
        _add_ply(proof, ply, design, results, cache)
    if proof.checked:
        proof.findings.extend(cut_twice(design))
    outlines = sum(p.region.loop_count for p in proof.plies)
    if proof.checked and outlines and not any(f.about == "validity" for f in proof.findings):
        proof.findings.insert(0, Finding("holds", f"All {outlines} outlines closed, none crossing"))
    return proof


def _passed_on(line: Line, results: dict[str, Result], cache: Kept) -> dict[str, Result]:
    """What stands in a switched-off line's place, by its own references: the results whose place it takes."""
    sources: dict[str, list[Result]] = {}
    for ref, name in kind_of(line).stands_for(line).items():
        if name and ref in results:
            sources.setdefault(ref_to(line.id, name), []).append(results[ref])
    return {ref: _as_one(ref, given, cache) for ref, given in sources.items()}


def _as_one(ref: str, given: list[Result], cache: Kept) -> Result:
    if len(given) == 1:
        return replace(given[0], ref=ref)
    levels = [level for one in given for level in one.made.levels]
    key = _digest(["passed on", [one.key for one in given]])
    return Result(ref, key, cache.get(key, lambda: Made(weld([one.region for one in given]), levels=levels)))


def _read_by(line: Line, design: Design) -> dict[str, Line]:
    """The earlier lines whose values a line takes over, and theirs."""
    found: dict[str, Line] = {}
    at = next(i for i, one in enumerate(design.recipe) if one.id == line.id)
    wanted = set(kind_of(line).reads(line))
    for one in reversed(design.recipe[:at]):
        if one.id in wanted:
            found[one.id] = one
            wanted |= set(kind_of(one).reads(one))
    return found


def _line_key(line: Line, others: dict[str, Line], results: dict[str, Result], sources: Sources) -> str:
    values = [
        one.model_dump(mode="json", exclude={"id", "off", "locked"}) for one in (line, *others.values())
    ]
    inputs = [results[ref].key if ref in results else "" for ref in references(line)]
    return _digest([values, list(others), inputs, sources.state])


def _roughly_drawn(design: Design) -> set[str]:
    """The lines that may be drawn roughly: those whose curves no line has use for."""
    exact: set[str] = set()
    for line in reversed(design.recipe):
        if not line.off and (line.id in exact or kind_of(line).by_curves(line)):
            exact |= {line.id, *map(line_of, references(line))}
    return {line.id for line in design.recipe} - exact


def _roughly(result: Result, cache: Kept) -> Made:
    made: Made = cache.get((result.key, "rough"), result.made.roughly)
    return made


def _digest(value: Any) -> str:
    return hashlib.sha256(json.dumps(value, sort_keys=True).encode()).hexdigest()[:20]


def _carried_out(
    line: Line,
    key: str,
    others: dict[str, Line],
    inputs: dict[str, Made],
    design: Design,
    sources: Sources,
    cache: Kept,
) -> tuple[Outcome, list[Finding]]:
    kind = kind_of(line)
    problems = _problems(line, set(inputs), design)
    if problems:
        return Outcome({}), [Finding("stop", text, line=line.id) for text in problems]

    def memo(what: Hashable, make: Callable[[], Any]) -> Any:
        return cache.get((sources.state, what), make)

    tools = Tools(inputs, sources, others, memo)
    try:
        outcome: Outcome = cache.get(key, lambda: kind.run(line, tools))
    except PerigramError as error:
        return Outcome({}), [Finding("stop", str(error), line=line.id)]
    except Exception:
        # Whatever it is, the rest of the design stays alive; the log has the details.
        log.exception("Line %s (%s) could not be worked out", line.id, kind.id)
        return Outcome({}), [Finding("stop", _FAILED, line=line.id)]
    findings = [
        Finding(
            note.level,
            note.text,
            line=line.id,
            place=note.place,
            mend=Mend(note.mend[0], "", line.id, note.mend[1]) if note.mend else None,
        )
        for note in outcome.notes
    ]
    if not any(f.level == "stop" for f in findings):
        findings += [
            Finding("look", f"{kind.name} leaves {_nothing(kind, name, design)}.", line=line.id)
            for name, made in outcome.results.items()
            if made.region.is_empty
        ]
    return outcome, findings


def _nothing(kind: Kind, name: str, design: Design) -> str:
    """What a result of a kind is called where it is empty: a thing of its own, or the rest of a source."""
    if name in kind.results:
        return "nothing" if name in kind.replaces else f"no {kind.results[name]}"
    order = [line.id for line in design.recipe]
    return f"nothing of line {order.index(line_of(name)) + 1}"


def _problems(line: Line, results: set[str], design: Design) -> list[str]:
    """Why a line cannot be carried out at all, in sentences."""
    problems = out_of_range(line)
    if any(kind == "refs" and not getattr(line, name) for name, kind in slots_of(line).items()):
        problems.append(_NOT_CHOSEN)
    order = [other.id for other in design.recipe]
    own, before = letters_in(line), design.recipe[: order.index(line.id)]
    total = own + sum(letters_in(one) for one in before if not one.off)
    if own and total > MOST_LETTERS:
        problems.append(
            f"A design can hold {MOST_LETTERS:,} letters; with this line it would be {total:,}. "
            "Make it several designs."
        )
    for ref in references(line):
        if ref in results:
            continue
        source = line_of(ref)
        if not ref:
            problems.append(_NOT_CHOSEN)
        elif source not in order:
            problems.append("This line uses something that was removed. Choose something else.")
        elif order.index(source) >= order.index(line.id):
            problems.append("This line uses a later line. Move it below that line.")
        else:
            number = order.index(source) + 1
            problems.append(f"This line waits for line {number}, which has no such result now.")
    return list(dict.fromkeys(problems))


def _add_ply(proof: Proof, ply: Ply, design: Design, results: dict[str, Result], cache: Kept) -> None:
    material = next((m for m in design.materials if m.id == ply.material), None)
    if material is None:
        proof.findings.append(Finding("stop", f"{ply.name} has no material. Choose one.", ply=ply.id))
        return
    given = [results[ref] for ref in ply.results if ref in results]
    missing = [ref for ref in ply.results if ref not in results]
    off = {line.id for line in design.recipe if line.off}
    if resting := [ref for ref in missing if line_of(ref) in off]:
        of_all = "Nothing" if len(resting) == len(ply.results) else "Not all"
        text = f"{of_all} is cut on {ply.name}: what it comes from is switched off."
        proof.findings.append(Finding("look", text, ply=ply.id))
        missing = [ref for ref in missing if ref not in resting]
    said = {finding.line for finding in proof.findings if finding.level == "stop"}
    # A line that says why it makes nothing says it for the plies cut from it as well.
    if any(line_of(ref) not in said for ref in missing):
        proof.findings.append(Finding("stop", f"{ply.name} uses a result that is not there now.", ply=ply.id))
    key = _digest(["ply", [r.key for r in given]])
    try:
        _make_ply(proof, ply, material, key, given, cache, whole=len(given) == len(ply.results))
    except Exception as error:
        log.exception("Ply %s could not be made", ply.id)
        proof.plies.append(PlyProof(ply, material, key, Region.empty(), Measures.of(Region.empty())))
        why = str(error) if isinstance(error, PerigramError) else "something went wrong in Perigram itself."
        text = f"{ply.name} could not be made: {why} Change what it is cut from a little."
        proof.findings.append(Finding("stop", text, ply=ply.id, about="validity"))


def _make_ply(
    proof: Proof, ply: Ply, material: Material, key: str, given: list[Result], cache: Kept, whole: bool
) -> None:
    """Args: whole: whether all that the ply is cut from is there."""
    drawn = region = cache.get(key, lambda: drop_slivers(weld([r.region for r in given])))
    # Most plies are one result as it is, nothing dropped; saying so spares writing and sending it twice.
    some = [r for r in given if not r.region.is_empty]
    as_it_is = len(some) == 1 and some[0].region.loop_count == drawn.loop_count
    shown = some[0].key if as_it_is else key
    if proof.checked:
        done = cache.get((key, "finished"), lambda: finished(drawn))
        region, shown = done.region, f"{key}.mended" if done.mended else shown
        key = f"{key}.finished"
    measures = cache.get((key, "measures"), lambda: Measures.of(region))
    proof.plies.append(PlyProof(ply, material, shown, region, measures))
    low, high = limits(Material, "smallest")
    if not low <= material.smallest <= high:
        says = f"The thinnest strand of {material.name} can be {low:g} to {high:g} mm"
        proof.findings.append(Finding("stop", f"{says}, not {material.smallest:g} mm.", ply=ply.id))
    elif proof.checked and (whole or not region.is_empty):
        found = cache.get(
            (key, "findings", ply.model_dump_json(), material.smallest, material.kind),
            lambda: check_ply(
                region, ply.id, ply.name, ply.results, material.smallest, material.kind == "card"
            ),
        )
        proof.findings.extend(found)

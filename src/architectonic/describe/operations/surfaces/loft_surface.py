"""Loft to a surface: through chains of curves, one after the other."""

from __future__ import annotations

from collections.abc import Mapping

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import acted, wanted_by_body
from architectonic.describe.operations.surface import SurfaceInput, path_of, plan_surface
from architectonic.describe.recipes import Wanted, Way
from architectonic.describe.references.places import plan_pieces
from architectonic.describe.results import ModelState, Node, PlacedCurve, Plan, fault
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Choice, Flag
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import PathBlank
from architectonic.family.operations.surfaces.loft_surface import Leaves, LoftSurface
from architectonic.family.records import Reference


class LoftSurfaceInput(SurfaceInput, frozen=True, kw_only=True):
    """Sections in order, each a chain of curves.

    Attributes:
        guides: each a chain of curves.
        begins, ends: how it leaves the first and the last section.
        first, last: edges beside which it goes on smoothly, by the shape they are on.
    """

    sections: tuple[Way, ...]
    straight: bool
    guides: tuple[Way, ...] = ()
    begins: Leaves = "as it comes"
    ends: Leaves = "as it comes"
    first: tuple[tuple[int, tuple[Wanted, ...]], ...] = ()
    last: tuple[tuple[int, tuple[Wanted, ...]], ...] = ()


def plan(view: View, node: Node, record: LoftSurface, given: ModelState) -> Plan:
    """Bodies with the surface."""
    bodies = view.model(node).bodies
    sections = _grouped(record.curves, bodies)
    if len(sections) < 2:
        raise fault("loft.sections", "needs curves of two sketches at least", "pick the curves of the next section")
    if record.straight and (record.guides or {record.begins, record.ends} != {"as it comes"}):
        told = "it cannot be straight between its sections and follow guides or leave them in a direction"
        raise fault("loft.both", told, "take one of them out")
    shapes: list[str] = []
    beside = []
    for leaves, section in ((record.begins, sections[0]), (record.ends, sections[-1])):
        by_body = wanted_by_body(r for r in section if r.item in bodies) if leaves == "smooth" else {}
        if leaves == "smooth" and not by_body:
            told = "goes on smoothly from the edge of a face only, and this section is none"
            raise fault("loft.no_face", told, "pick an edge of a body as the section, or let it leave square")
        present = acted(view, node, tuple(by_body), given, ("solid", "surface")) if by_body else []
        beside.append(tuple((len(shapes) + k, tuple(by_body[body])) for k, (body, _) in enumerate(present)))
        shapes += [s for _, s in present]
    ways = []
    for group in (*sections, *_grouped(record.guides, bodies)):
        named: list[tuple[str, PlacedCurve]] = yield from plan_pieces(view, node, tuple(group), record.id)
        ways.append(path_of(named))
    payload = LoftSurfaceInput(
        operation=record.id,
        body=record.body,
        sections=tuple(ways[: len(sections)]),
        straight=record.straight,
        guides=tuple(ways[len(sections) :]),
        begins=record.begins,
        ends=record.ends,
        first=beside[0],
        last=beside[1],
    )
    state = yield from plan_surface(record, given, "loft_surface", payload, tuple(shapes))
    return state


def _grouped(references: tuple[Reference, ...], bodies: Mapping[str, object]) -> list[list[Reference]]:
    """Curves of one sketch are a chain; an edge of a body and a whole path are one by themselves."""
    groups: dict[str, list[Reference]] = {}
    for number, reference in enumerate(references):
        alone = reference.item in bodies or not reference.label
        groups.setdefault(f"{reference.item}/{number}" if alone else reference.item, []).append(reference)
    return list(groups.values())


_LEAVES = (("as it comes", "as it comes"), ("square", "square to its plane"), ("smooth", "smooth from the face there"))


KIND = OperationKind(
    LoftSurface,
    (
        Sentence("loft_surface", "Loft a surface", "loft", "Surface", (
            PathBlank("curves", "through"), Flag("straight", "straight between them"),
            PathBlank("guides", "guided by", "", "+ guides"),
            Choice("begins", "beginning", first="as it comes", choices=_LEAVES, quiet=True),
            Choice("ends", "ending", first="as it comes", choices=_LEAVES, quiet=True),
        ), short="Lofted", needs=anywhere, also=("ruled", "through curves", "skin", "lofted surface")),
    ),
    plan,
    recipe="loft_surface", given=LoftSurfaceInput, version=3,
    group="surfaces",
    rank=16,
)  # fmt: skip

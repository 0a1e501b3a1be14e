"""Assemblies: what each instance shows, on the shared origin, and their mass."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from architectonic.describe.results import ModelState, Node, Outcome, Plan, Value, needed
from architectonic.describe.view import View, instance_scope
from architectonic.family.records import Assembly, Instance

IDENTITY = (1.0, 0.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0, 1.0)


class Placed(Value, frozen=True):
    """An instance in place.

    Attributes:
        document, configuration: what it shows.
        placement: 4 x 4, row-major, mm.
        bodies: (document, configuration, body id) of every body below it.
        mass: in g, None when any body has no density.
        box: x0, y0, z0, x1, y1, z1 in mm, None without bodies.
    """

    document: str
    configuration: str
    placement: tuple[float, ...]
    bodies: tuple[tuple[str, str, str], ...]
    mass: float | None
    box: tuple[float, ...] | None


def plan_placed(view: View, node: Node) -> Plan:
    """One instance: a part's bodies, or a sub-assembly's."""
    record = view.record(node)
    assert isinstance(record, Instance)
    at = instance_scope(view, node, record)
    if isinstance(view.family.documents[at.document], Assembly):
        (outcome,) = yield [Node("assembly", *at, "")]
        inner = needed(outcome)
        bodies = tuple(b for p in inner for b in p.bodies)
        return Placed(*at, IDENTITY, bodies, weighed(inner), _around([p.box for p in inner]))
    (finished,) = yield [Node("finished", *at, "")]
    state = needed(finished)
    assert isinstance(state, ModelState)
    ids = [b for b, _ in state.bodies]
    measures = yield [Node("measure", *at, b) for b in ids]
    masses = yield [Node("mass", *at, b) for b in ids]
    return Placed(
        *at,
        IDENTITY,
        tuple((at.document, at.configuration, b) for b in ids),
        total_mass([_number(m) for m in masses]),
        _around([tuple(needed(m)["box_mm"]) for m in measures]),
    )


def _number(outcome: Outcome) -> float | None:
    return None if outcome.value is None else float(outcome.value)


def total_mass(masses: list[float | None]) -> float | None:
    """The sum of masses, None when any is unknown or there are none; what has no bodies is left out before."""
    known = [m for m in masses if m is not None]
    return sum(known) if len(known) == len(masses) and masses else None


def weighed(placed: Iterable[Placed]) -> float | None:
    """The mass of placed things; those that are only planned yet do not count."""
    return total_mass([p.mass for p in placed if p.bodies])


def _around(boxes: list[tuple[float, ...] | None]) -> tuple[float, ...] | None:
    known = [b for b in boxes if b is not None]
    if not known:
        return None
    return tuple(min(b[i] for b in known) for i in range(3)) + tuple(max(b[i] for b in known) for i in range(3, 6))


def plan_assembly(view: View, node: Node) -> Plan:
    """All instances of an assembly in one configuration."""
    document = view.document(node)
    assert isinstance(document, Assembly)
    outcomes = yield [Node("placed", node.document, node.configuration, i.id) for i in document.instances]
    return tuple(o.value for o in outcomes if o.value is not None)


PLANS: dict[str, Callable[[View, Node], Plan]] = {"placed": plan_placed, "assembly": plan_assembly}

"""What a hole operation knows: its hole set, from tables or typed freely, and whether two sets match."""

from __future__ import annotations

from typing import Any

import msgspec

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import HoleSet, Node, Plan, fault
from architectonic.describe.view import View
from architectonic.family.operations.holes.hole import Core, ForPin, ForScrew, Hole, Matching, Plain, Tapped
from architectonic.family.operations.solids.extrude import Distance, Through
from architectonic.family.records import Expression
from architectonic.quantities.compiled import NameKind
from architectonic.quantities.standards import fits, plastics, screws, threads
from architectonic.quantities.units import ANGLE, LENGTH

HEADS = {"socket": "socket head", "flat": "countersunk head", "any": "screw"}
FLAT_ANGLE = 1.5707963267948966
"""Whole angle of the cone under a countersunk head of ISO 10642, rad."""


def plan_set(view: View, node: Node, record: Hole, fed: HoleSet | None) -> Plan:
    """Sub-plan: what the holes of an operation are.

    Args:
        fed: the hole set at whose places they stand.

    Raises:
        NodeFault: a size is not in the tables, or a value cannot be.
    """
    by = record.by
    made: HoleSet
    if isinstance(by, ForScrew):
        made = yield from _plan_for_screw(view, node, by)
    elif isinstance(by, Tapped):
        made = yield from _plan_tapped(view, node, by)
    elif isinstance(by, ForPin):
        diameter = yield from _plan_positive(view, node, by.diameter, "diameter of the pin")
        made = pin_set(diameter, by.fit)
    elif isinstance(by, Core):
        made = core_set((yield from _plan_positive(view, node, by.screw, "diameter of the screw")), by.into)
    elif isinstance(by, Matching):
        if fed is None:
            raise fault(
                "hole.match", "there is no hole set to match", "take the holes of another part first", "missing"
            )
        made = counterpart(fed, by.fit, by.sunk)
    else:
        assert isinstance(by, Plain)
        made = HoleSet(purpose="plain", diameter=(yield from _plan_positive(view, node, by.diameter, "diameter")))
    more: dict[str, Any] = {"operation": record.id, "name": record.name}
    if record.counterbore is not None:
        wide = yield from _plan_positive(view, node, record.counterbore.diameter, "diameter of the counterbore")
        more["counterbore"] = (
            wide,
            (yield from _plan_positive(view, node, record.counterbore.depth, "depth of the counterbore")),
        )
        more["countersink"] = None
    if record.countersink is not None:
        wide = yield from _plan_positive(view, node, record.countersink.diameter, "diameter of the countersink")
        angle = yield from evaluate(view, node, record.countersink.angle, ANGLE)
        if not 0.17 < angle < 3.05:
            told = f"the countersink has an angle of {angle * 57.29577951308232:g} deg"
            raise fault("hole.angle", told, "give one between 10 and 170 deg")
        more["countersink"], more["counterbore"] = (wide, angle), None
    if record.step is not None:
        narrow = yield from _plan_positive(view, node, record.step.diameter, "diameter of the step")
        more["step"] = (narrow, (yield from _plan_positive(view, node, record.step.depth, "depth of the step")))
    if isinstance(record.far, Distance):
        more["depth"] = yield from _plan_positive(view, node, record.far.value, "depth")
        if made.thread and made.thread_depth is not None and made.thread_depth > more["depth"] + tolerance.FEATURE:
            told = f"the thread is {made.thread_depth:g} mm deep and the hole {more['depth']:g} mm"
            raise fault("hole.thread", told, "drill deeper, or make the thread shorter")
    more["through"] = isinstance(record.far, Through)
    return msgspec.structs.replace(made, **more)


def _plan_positive(view: View, node: Node, expression: Expression, what: str) -> Plan:
    value = yield from evaluate(view, node, expression, LENGTH)
    if value < tolerance.FEATURE:
        raise fault("hole.size", f"the {what} is {value:g} mm", f"give a positive {what}")
    return value


def _plan_size(view: View, node: Node, expression: Expression, known: dict[str, Any]) -> Plan:
    key = yield from evaluate(view, node, expression, NameKind(tuple(known)))
    if key not in known:
        raise fault("hole.unknown", f"there is no size {key} in the tables", "choose another one, or type a diameter")
    return known[key]


def _plan_for_screw(view: View, node: Node, by: ForScrew) -> Plan:
    screw: screws.Screw = yield from _plan_size(view, node, by.size, screws.BY_KEY)
    made = screw_set(screw, by.head, by.sunk, by.fit)
    if by.diameter is None:
        return made
    diameter = yield from _plan_positive(view, node, by.diameter, "diameter")
    if diameter <= screw.diameter:
        told = f"a hole of {diameter:g} mm does not let {screw.name} pass"
        raise fault("hole.tight", told, f"give more than {screw.diameter:g} mm")
    return msgspec.structs.replace(made, diameter=diameter, standard="", tolerance="")


def _plan_tapped(view: View, node: Node, by: Tapped) -> Plan:
    thread: threads.Thread = yield from _plan_size(view, node, by.size, threads.BY_KEY)
    made = tapped_set(thread, by.hand, by.tolerance, by.shown)
    if by.depth is not None:
        depth = yield from _plan_positive(view, node, by.depth, "depth of the thread")
        made = msgspec.structs.replace(made, thread_depth=depth)
    if by.drill is not None:
        drill = yield from _plan_positive(view, node, by.drill, "diameter before tapping")
        if not thread.minor_diameter - 0.2 * thread.pitch <= drill < thread.diameter:
            low, high = thread.minor_diameter, thread.diameter
            told = f"a hole of {drill:g} mm cannot be tapped {thread.name}"
            raise fault("hole.drill", told, f"give about {low:.3g} mm, less than {high:g} mm")
        made = msgspec.structs.replace(made, diameter=drill)
    return made


def screw_set(screw: screws.Screw, head: str, sunk: bool, fit: str) -> HoleSet:
    """A hole that a screw passes through, with a recess for its head when it is sunk.

    Raises:
        NodeFault: there is no such head of that size in the tables.
    """
    clear = screw.clearance[screws.FITS.index(fit)]
    counterbore = countersink = None
    if head == "socket":
        if screw.socket is None:
            raise fault(
                "hole.head", f"there is no socket head of {screw.name} in the tables", "choose another size or head"
            )
        counterbore = screw.socket[2:] if sunk else None
    elif head == "flat":
        if screw.flat is None:
            told = f"there is no countersunk head of {screw.name} in the tables"
            raise fault("hole.head", told, "choose another size or head, or add a countersink")
        countersink = (screw.flat, FLAT_ANGLE)
    return HoleSet(
        purpose="screw",
        size=screw.name,
        made_for=f"{screw.name} {HEADS[head]}" + (f", {screw.standard(head)}" if head != "any" else ""),
        standard=f"{screw.clears}, {fit}",
        diameter=clear,
        tolerance=screws.CLASSES[fit] if screw.metric else "",
        counterbore=counterbore,
        countersink=countersink,
    )


def tapped_set(thread: threads.Thread, hand: Any, tolerance_class: str, shown: bool) -> HoleSet:
    """A hole with a thread, of the diameter of its drill."""
    return HoleSet(
        purpose="tapped",
        size=thread.nominal,
        made_for=f"{thread.nominal} screw",
        standard=thread.standard,
        diameter=thread.drill,
        thread=thread.name,
        pitch=thread.pitch,
        hand=hand,
        tolerance=tolerance_class or thread.usual_class,
        shown=shown,
    )


def pin_set(diameter: float, fit: str) -> HoleSet:
    """A hole for a pin, of its nominal diameter, with what the class allows.

    Raises:
        NodeFault: the class or the diameter is not in the tables.
    """
    try:
        low, high = fits.limits(diameter, fit)
    except UserFault as problem:
        raise fault("hole.fit", problem.what, problem.mend) from None
    return HoleSet(
        purpose="pin",
        size=f"{diameter:g}",
        made_for=f"pin of {diameter:g} mm",
        standard="ISO 286",
        diameter=diameter,
        tolerance=fit,
        limits=(tolerance.length(low), tolerance.length(high)),
    )


def core_set(screw: float, into: str) -> HoleSet:
    """A core for a screw that forms its own thread.

    Raises:
        NodeFault: the material is not in the table.
    """
    if into not in plastics.CORES:
        raise fault("hole.material", f"no core is known for {into}", "choose " + ", ".join(plastics.CORES))
    return HoleSet(
        purpose="core",
        size=f"{screw:g}",
        made_for=f"screw of {screw:g} mm into {into}",
        standard="common practice",
        diameter=tolerance.length(screw * plastics.CORES[into]),
    )


# --- what goes with what ----------------------------------------------------------------------------------------------


def counterpart(fed: HoleSet, fit: str, sunk: bool) -> HoleSet:
    """What a mating part has at the places of a hole set.

    Raises:
        NodeFault: the tables have nothing for its size.
    """
    if fed.purpose == "pin":
        return pin_set(fed.diameter, fed.tolerance)
    if fed.purpose == "plain":
        return HoleSet(purpose="plain", diameter=fed.diameter)
    if fed.purpose == "screw":
        thread = next((t for t in threads.THREADS if t.nominal == fed.size), None)
        if thread is None:
            raise fault(
                "hole.unknown", f"there is no thread for {fed.size} in the tables", "say what the holes are for"
            )
        return tapped_set(thread, "right", "", False)
    size = fed.size if fed.purpose == "tapped" else f"M{fed.size}"
    screw = next((s for s in screws.SCREWS if s.name == size), None)
    if screw is None:
        told = f"no clearance is known for {size}"
        raise fault("hole.unknown", told, "say what the holes are for, or type a diameter")
    head = "socket" if screw.socket is not None else "any"
    return screw_set(screw, head, sunk and head == "socket", fit)


def differences(own: HoleSet, fed: HoleSet) -> tuple[str, ...]:
    """In what two hole sets at the same places do not go together, in words; () when they match."""
    kinds = {own.purpose, fed.purpose}
    if kinds == {"tapped"}:
        return ("both are tapped",)
    if kinds == {"screw"}:
        return () if own.size == fed.size else (f"one lets {own.size} pass and the other {fed.size}",)
    if kinds <= {"tapped", "screw", "core"}:
        clear, held = (own, fed) if own.purpose == "screw" else (fed, own)
        if clear.purpose != "screw":
            return ("neither lets the screw pass",)
        size = held.size if held.purpose == "tapped" else f"M{held.size}"
        return () if clear.size == size else (f"one is for {clear.size} and the other for {size}",)
    if "plain" in kinds:
        plain, other = (own, fed) if own.purpose == "plain" else (fed, own)
        thread = next((t for t in threads.THREADS if t.name == other.thread), None)
        needed = thread.diameter if thread is not None else other.diameter
        if plain.diameter < needed - tolerance.FEATURE:
            return (f"a hole of {plain.diameter:g} mm is narrower than {needed:g} mm",)
        return ()
    if kinds == {"pin"}:
        same = abs(own.diameter - fed.diameter) < tolerance.FEATURE
        return () if same else (f"one is for a pin of {own.size} mm and the other of {fed.size} mm",)
    return (f"one is {_told(own)} and the other {_told(fed)}",)


def _told(holes: HoleSet) -> str:
    return f"for a {holes.made_for}" if holes.made_for else f"a hole of {holes.diameter:g} mm"

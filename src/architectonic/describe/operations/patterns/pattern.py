"""Pattern: operations done again in other places."""

from __future__ import annotations

from typing import Any, Literal

import msgspec

from architectonic.base import rigid
from architectonic.base.labels import copied
from architectonic.base.problem import Problem
from architectonic.base.rigid import Rigid
from architectonic.describe.operations.holes.hole import plan_input
from architectonic.describe.operations.holes.places import refuse_meeting
from architectonic.describe.operations.kind import OperationKind, kind_of
from architectonic.describe.operations.marks.engrave import EngraveInput
from architectonic.describe.operations.solid import acted, replaced, with_data
from architectonic.describe.recipes import EdgesInput, SolidInput, Wanted
from architectonic.describe.results import (
    Frame,
    HolePlaced,
    HoleSet,
    HolesResult,
    MemberMove,
    ModelState,
    Node,
    NodeFault,
    Plan,
    Recipe,
    Value,
    fault,
    needed,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Angle, Flag, Length, Number
from architectonic.describe.words.holes import LeftOut
from architectonic.describe.words.patterns import Condition, PlacesTable, Repeated
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import (
    AcrossBlank,
    AlongBlank,
    LineBlank,
    PathBlank,
    PlaneBlank,
    PointBlank,
    SketchBlank,
)
from architectonic.family.operations.base import BodyOperation, OnEdges, Solid
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.operations.marks.engrave import Engrave, Words
from architectonic.family.operations.patterns.pattern import (
    Along,
    AtPoints,
    ByTable,
    Mirrored,
    PatternSteps,
    Ring,
    Row,
    TwoWays,
)


class PatternStep(Value, frozen=True, kw_only=True):
    """What one operation does, once for every member.

    Attributes:
        how: a tool that is copied, holes that are drilled anew, or edges that are treated together.
        kind, payload: recipe and encoded input of the operation; of edges, with those of all members.
        shapes: places of what comes along for it among the shapes of the pattern.
    """

    how: Literal["tool", "holes", "edges"]
    kind: str
    payload: bytes
    shapes: tuple[int, ...] = ()


class PatternInput(Value, frozen=True, kw_only=True):
    """Bodies in the order of the shapes that come along first, and what is done to them.

    Attributes:
        members: label and move of each.
    """

    operation: str
    bodies: tuple[str, ...]
    members: tuple[tuple[str, Rigid], ...]
    steps: tuple[PatternStep, ...]


def plan(view: View, node: Node, record: PatternSteps, given: ModelState) -> Plan:
    """Bodies after operations were done again in other places."""
    if not record.of:
        raise fault("pattern.nothing", "has nothing to repeat", "pick what an operation made")
    (outcome,) = yield [Node("members", node.at, record.id)]
    members: tuple[MemberMove, ...] = needed(outcome, "")
    kept = [m for m in members if not m.out]
    bodies = acted(view, node, record.acts_on, given)
    sources = yield from _plan_sources(view, node, record)
    if not kept:  # a count of none or one: there is nothing beside the first
        return given
    shapes = [s for _, s in bodies]
    steps: list[PatternStep] = []
    sets: dict[str, HoleSet] = {}
    for source in sources:
        if isinstance(source, Hole):
            holes, step = yield from _plan_holes(view, node, record, source, kept, bodies, shapes)
            sets[source.id] = holes
        else:
            recipe = yield from _plan_recipe(view, node, source)
            step = _step(record, source, recipe, kept, bodies, {s.id for s in sources}, shapes)
        steps.append(step)
    payload = PatternInput(
        operation=record.id,
        bodies=tuple(b for b, _ in bodies),
        members=tuple((m.key, m.move) for m in kept),
        steps=tuple(steps),
    )
    made = yield Recipe("pattern", payload, tuple(shapes))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return with_data(replaced(given, made.key, made.value), made.value, sets)


def _plan_sources(view: View, node: Node, record: PatternSteps) -> Plan:
    """Sub-plan: the operations that are repeated, those that are off left out, in the order of the build list."""
    build = view.model(node).build
    earlier = {o.id: o for o in build[: [o.id for o in build].index(record.id)]}
    found: list[BodyOperation] = []
    for reference in record.of:
        source = earlier.get(reference.item)
        if not isinstance(source, BodyOperation):
            raise fault("pattern.missing", "an operation that it repeats is gone", "pick what it repeats", "missing")
        if not isinstance(source, (Solid, Hole, OnEdges, Engrave)):
            told = f"{source.name} is no operation that can be repeated in place"
            raise fault("pattern.kind", told, "repeat what adds, cuts, drills, marks or treats edges, or the bodies")
        if isinstance(source, Engrave) and isinstance(source.by, Words) and isinstance(record.by, Mirrored):
            raise fault("pattern.read", f"{source.name} could only be read in a mirror", "engrave it there anew")
        if isinstance(source, Solid) and source.does not in ("add", "cut"):
            what = "makes a body" if source.does == "make" else "keeps an overlap"
            raise fault("pattern.kind", f"{source.name} {what}", "repeat the body that comes from it instead")
        (outcome,) = yield [Node("state", node.at, source.id, node.label)]
        state: ModelState = needed(outcome)
        if outcome.problem is not None:
            cause = outcome.problem
            raise NodeFault(
                Problem(
                    code=f"follows.{cause.code}",
                    what=f"{source.name} fails: {cause.what}",
                    severity=cause.severity,
                    mend=cause.mend,
                    root=cause.root or cause.where,
                )
            )
        if state.status != "off":
            found.append(source)
    if not found:
        raise fault("pattern.off", "what it repeats is off here", "", "off")
    return sorted(found, key=lambda s: list(earlier).index(s.id))


def _plan_recipe(view: View, node: Node, source: BodyOperation) -> Plan:
    """Sub-plan: what an operation asks of the kernel where it stands in the build list."""
    given = ModelState()
    before = view.previous(node, source.id)
    if before is not None:
        (outcome,) = yield [before]
        given = needed(outcome)
    kind = kind_of(source)
    running = kind.plan(view, node, source, given)
    sent: Any = None
    while True:
        asked = running.send(sent)  # it asks for its result in the end: an operation that works needs its recipe
        if isinstance(asked, Recipe) and asked.kind == kind.recipe:
            running.close()
            return asked
        sent = yield asked


def _plan_holes(
    view: View,
    node: Node,
    record: PatternSteps,
    source: Hole,
    members: list[MemberMove],
    bodies: list[tuple[str, str]],
    shapes: list[str],
) -> Plan:
    """Sub-plan: all further holes of one operation at once, each as deep as the material is where it stands."""
    (outcome,) = yield [Node("holes", node.at, source.id)]
    first: HolesResult = needed(outcome, source.name)
    named = [(m, p) for m in members for p in first.places]
    placed = tuple(HolePlaced(p.key, _moved(p.frame, m.move)) for m, p in named)
    refuse_meeting((*first.places, *placed), first.set)
    moved = HolesResult(first.set, placed)
    payload, along = yield from plan_input(view, node, source, moved, bodies)
    within = tuple(member_of(record.id, m.key) for m, _ in named)
    several = len(first.places) > 1
    numbers = tuple(k + 1 + len(first.places) if several else m.number for k, (m, _) in enumerate(named))
    encoded = msgspec.msgpack.encode(msgspec.structs.replace(payload, within=within, numbers=numbers))
    more = along[len(bodies) :]
    places = (*range(len(bodies)), *range(len(shapes), len(shapes) + len(more)))
    shapes += more
    return first.set, PatternStep(how="holes", kind="hole", payload=encoded, shapes=places)


def member_of(pattern: str, key: str) -> str:
    """What the labels of a member's faces begin with."""
    return f"{pattern}:{key}"


def _moved(frame: Frame, move: Rigid) -> Frame:
    return Frame(rigid.moved(move, frame.origin), rigid.turned(move, frame.x), rigid.turned(move, frame.normal))


def _step(
    record: PatternSteps,
    source: BodyOperation,
    recipe: Recipe,
    members: list[MemberMove],
    bodies: list[tuple[str, str]],
    repeated: set[str],
    shapes: list[str],
) -> PatternStep:
    """One operation as a step: what comes along for it is put among the shapes."""
    given = recipe.payload
    if isinstance(given, EdgesInput):
        known = [b for b, _ in bodies]
        edges = []
        for body, wanted in given.edges:
            if body not in known:
                raise fault("pattern.bodies", f"{source.name} treats a body that this does not act on", "add that body")
            ids = frozenset(repeated)
            edges.append((body, tuple(_wanted(w, ids, member_of(record.id, m.key)) for m in members for w in wanted)))
        return PatternStep(
            how="edges",
            kind=recipe.kind,
            payload=msgspec.msgpack.encode(msgspec.structs.replace(given, edges=tuple(edges))),
        )
    assert isinstance(given, (SolidInput, EngraveInput))
    places = tuple(range(len(shapes), len(shapes) + len(recipe.shapes)))
    shapes += recipe.shapes
    return PatternStep(how="tool", kind=recipe.kind, payload=msgspec.msgpack.encode(given), shapes=places)


def _wanted(wanted: Wanted, repeated: frozenset[str], member: str) -> Wanted:
    """An edge of a member: between the copies of its faces, and faces that the pattern does not repeat."""
    witness = wanted.witness
    if witness is not None:
        around = tuple(sorted(copied(n, repeated, member) for n in witness.neighbours))
        witness = msgspec.structs.replace(witness, neighbours=around, at=(), normal=(), size=None)
    return Wanted(copied(wanted.label, repeated, member), witness)


_WHAT = (Repeated("of"), Bodies("acts_on", "in"))
_LESS = (
    LeftOut("left_out", "but not at", clause="+ leave some out"),
    Condition("only_if", "where", clause="+ only where"),
)


def said(
    key: str, title: str, verb: str, what: tuple[Any, ...], short: str, by: type, also: tuple[str, ...]
) -> Sentence:
    """A sentence of a pattern by its kind."""
    blanks: dict[type, tuple[Any, ...]] = {
        Row: (
            AlongBlank("by.direction", "along"), Number("by.count", "", "3", signed=True), Length("by.step", "of them, every", "20 mm"),
            Flag("by.over", "over all of them"), Flag("by.flip", "the other way", quiet=True),
        ),
        TwoWays: (
            AlongBlank("by.direction", "along"), Number("by.count", "", "3", signed=True), Length("by.step", "of them, every", "20 mm"),
            AcrossBlank("by.second", "and along"), Number("by.second_count", "", "2", signed=True), Length("by.second_step", "of them, every", "20 mm"),
        ),
        Ring: (
            LineBlank("by.axis", "about"), Number("by.count", "", "6", signed=True), Angle("by.angle", "of them, over", "360 deg"),
            Flag("by.each", "from one to the next"), Flag("by.flip", "the other way", quiet=True),
            PointBlank("by.base", "keeping their direction, with", clause="+ keep their direction", optional=True),
        ),
        Along: (
            PathBlank("by.path", "along"), Number("by.count", "", "5", signed=True), Length("by.step", "every", "20 mm", "+ step", optional=True),
            Flag("by.turned", "turned with it"),
        ),
        AtPoints: (SketchBlank("by.sketch", "at the points of"), PointBlank("by.base", "as the first to")),
        ByTable: (PlacesTable("by.rows", "at"), PointBlank("by.base", "from")),
        Mirrored: (PlaneBlank("by.plane", "in"),),
    }  # fmt: skip
    less = (_LESS[0],) if by is Mirrored else _LESS
    return Sentence(
        key, title, verb, short, (*what, *blanks[by], *(() if by is Mirrored else less)), short=short, by=by, also=also
    )


KIND = OperationKind(
    PatternSteps,
    (
        said("pattern_row", "Row of operations", "repeat", _WHAT, "Row", Row, ("pattern", "array", "linear", "repeat", "copy")),
        said("pattern_rows", "Grid of operations", "repeat", _WHAT, "Grid", TwoWays, ("pattern", "array", "grid", "rectangular")),
        said("pattern_ring", "Ring of operations", "repeat", _WHAT, "Ring", Ring, ("pattern", "array", "circular", "polar", "bolt circle")),
        said("pattern_along", "Operations along a path", "repeat", _WHAT, "Along a path", Along, ("pattern", "curve", "array", "follow")),
        said("pattern_points", "Operations at points", "repeat", _WHAT, "At points", AtPoints, ("pattern", "sketch driven", "array")),
        said("pattern_table", "Operations by a table of places", "repeat", _WHAT, "By a table", ByTable, ("pattern", "coordinates", "array")),
        said("pattern_mirrored", "Mirror operations", "mirror", _WHAT, "Mirrored", Mirrored, ("pattern", "symmetry", "reflect")),
    ),
    plan,
    recipe="pattern", given=PatternInput, version=1,
    group="patterns and mirrors",
    rank=10,
)  # fmt: skip

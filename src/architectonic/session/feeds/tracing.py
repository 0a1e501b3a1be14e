"""Bringing geometry into a sketch: what can be traced there, and tracing it, with an offset in the same gesture.

What is offered is read from an evaluation: curves and points of other sketches, edges, outlines and vertices of
bodies, axes of round faces, datums, and sections by the sketch's plane. From another document it is taken through a
feed, whose state says later whether it is still there.
"""

from __future__ import annotations

import re
from typing import Literal, NamedTuple

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.describe.drawn.curves import put_at
from architectonic.describe.references.planes import in_space, on_plane
from architectonic.describe.results import CurveResult, Found, Node, SketchResult
from architectonic.family import edits
from architectonic.family.names import free_name
from architectonic.family.records import (
    SELF,
    Arc,
    Circle,
    Curve,
    Ellipse,
    EllipticArc,
    Family,
    Feed,
    Line,
    Point,
    Reference,
    Sketch,
    Socket,
    Spline,
    Takes,
    Trace,
)
from architectonic.family.references import Stage
from architectonic.family.scopes import Scope
from architectonic.session.assembly import surroundings
from architectonic.session.feeds.traceable import How, Traceable
from architectonic.session.open.queries import ask
from architectonic.session.sketch import offsets
from architectonic.session.sketch.sketching import begin


class Wish(NamedTuple):
    """How things are traced.

    Attributes:
        own: as curves drawn here, that follow nothing.
        helper: as lines that bound no region; those that only carry an offset are so in any case.
        offset: a distance as typed; "" for none; side: of what is traced, or of an open chain: inside is left of it.
        stage: of own bodies "here"; of others "finished", or as after an operation.
        alternate: in which neighbours are seen, of the assembly that they are seen in.
    """

    how: How = "projected"
    own: bool = False
    helper: bool = True
    offset: str = ""
    side: Literal["inside", "outside"] = "inside"
    stage: Stage = "finished"
    name: str = ""
    alternate: str = ""


def trace(
    family: Family,
    at: Scope,
    sketch: str,
    things: list[Traceable],
    wish: Wish = Wish(),  # noqa: B008
    make_id: IdSource = new_id,
) -> Family:
    """Trace things into a sketch, as one edit.

    Raises:
        UserFault: nothing is chosen; something cannot be traced so, or its offset has no room.
    """
    if not things:
        raise UserFault("nothing is chosen to trace", "", "pick curves, edges or points first")
    references: list[tuple[Reference, Traceable]] = []
    for source, among, path in dict.fromkeys((t.at, t.among, t.path) for t in things):
        group = [t for t in things if (t.at, t.among, t.path) == (source, among, path)]
        if source.document == at.document:
            references += [(_own_reference(t, wish), t) for t in group]
        else:
            family, taken = _fed(family, at, source, group, wish, make_id)
            references += taken
    record = edits.operation(family, at.document, sketch)
    assert isinstance(record, Sketch)
    made: dict[str, Trace] = {}
    for reference, thing in references:
        how = thing.how if thing.how == "crossing" else wish.how
        if how == "section":
            family, cut = _sections(family, at, record, reference, make_id)
            made.update(cut)
        else:
            made[make_id()] = Trace(source=reference, how=how, drawn=_hint(thing), helper=wish.helper)
    if wish.offset:
        made = {k: edits.replace(t, helper=True) for k, t in made.items()}
    traced = edits.replace(record, curves={**record.curves, **made})
    family = edits.replace_operation(family, at.document, traced)
    family, solved = _settled(family, at, record, made)
    if wish.own:
        return make_own(family, at, sketch, list(made), solved)
    if wish.offset:
        return _with_offset(family, at, sketch, made, solved, wish, make_id)
    return family


def _hint(thing: Traceable) -> tuple[float, ...]:
    """Where a crossing point was seen, so that of several the nearest is meant."""
    middle = thing.points[len(thing.points) // 2]
    return (tolerance.length(float(middle[0])), tolerance.length(float(middle[1])))


def _own_reference(thing: Traceable, wish: Wish) -> Reference:
    label = "" if wish.how == "section" else thing.label
    stage: Stage = "here" if thing.takes in ("edge", "vertex", "axis") and thing.label else "finished"
    return Reference(of=SELF, item=thing.item, stage=stage, label=label, witness=thing.witness)


def _fed(
    family: Family, at: Scope, source: Scope, group: list[Traceable], wish: Wish, make_id: IdSource
) -> tuple[Family, list[tuple[Reference, Traceable]]]:
    """A feed of things of another document; what is fed from it already is not fed twice."""
    document = edits.model(family, at.document)
    found: list[tuple[Reference, Traceable]] = []
    sockets: dict[str, Socket] = {}
    among, path = group[0].among, group[0].path
    context = (
        surroundings.context_of(family, among, source.document, at.document, wish.alternate, path) if among else None
    )
    known = {
        (s.takes, s.source.item, s.source.label, s.source.stage): k
        for f in document.feeds.values()
        for k, s in f.sockets.items()
        if s.source.of == source.document and s.source.context == context and f.state == "live"
    }
    for thing in group:
        takes: Takes = "section" if wish.how == "section" else thing.takes
        label = "" if takes == "section" else thing.label
        stage = wish.stage if thing.takes in ("edge", "vertex", "axis", "section") else "finished"
        key = known.get((takes, thing.item, label, stage))
        if key is None:
            key = make_id()
            reference = Reference(
                of=source.document, item=thing.item, stage=stage, label=label, witness=thing.witness, context=context
            )
            sockets[key] = Socket(takes=takes, source=reference)
            known[takes, thing.item, label, stage] = key
        found.append((Reference(item=key), thing))
    if sockets:
        base = wish.name or f"from {family.documents[source.document].name}"
        name = free_name(base, [f.name for f in document.feeds.values()])
        family = edits.add_feed(family, at.document, make_id(), Feed(name=name, sockets=sockets))
    return family, list({r.item: (r, t) for r, t in found}.values()) if wish.how == "section" else found


def _sections(
    family: Family, at: Scope, record: Sketch, reference: Reference, make_id: IdSource
) -> tuple[Family, dict[str, Trace]]:
    """A traced curve for each curve in which the sketch's plane cuts a body."""
    outcome = ask(family, [Node("cut", at, record.id, reference.item)]).outcomes[
        Node("cut", at, record.id, reference.item)
    ]
    if not isinstance(outcome.value, Found):
        told = outcome.problem
        raise UserFault(told.what if told else "the section cannot be made", record.name, told.mend if told else "")
    made = {}
    frame = ask(family, [Node("frame", at, record.id)]).value(Node("frame", at, record.id))
    for curve, label in zip(outcome.value.curves, outcome.value.labels, strict=True):
        place = on_plane(frame, in_space(curve.frame, (curve.curve.values[0], curve.curve.values[1])))
        drawn = (tolerance.length(place[0]), tolerance.length(place[1]))
        source = edits.replace(reference, label=label, witness=None)
        made[make_id()] = Trace(source=source, how="section", drawn=drawn, helper=False)
    return family, made


def _settled(family: Family, at: Scope, record: Sketch, made: dict[str, Trace]) -> tuple[Family, SketchResult]:
    """Where the traced curves stand; written as where they were drawn.

    Raises:
        UserFault: one of them cannot be traced so.
    """
    node = Node("solve", at, record.id)
    outcome = ask(family, [node]).outcomes[node]
    if not isinstance(outcome.value, SketchResult):
        told = outcome.problem
        what = re.sub(r" cannot be used: ", ": ", told.what) if told else "it cannot be traced"
        raise UserFault(what, record.name, told.mend if told else "")
    changed = edits.operation(family, at.document, record.id)
    assert isinstance(changed, Sketch)
    curves = {
        k: edits.replace(c, drawn=outcome.value.curves[k].values) if k in made and isinstance(c, Trace) else c
        for k, c in changed.curves.items()
    }
    return edits.replace_operation(family, at.document, edits.replace(changed, curves=curves)), outcome.value


def drawn_like(c: CurveResult) -> Curve:
    """A curve of one's own where a traced one stands.

    Raises:
        UserFault: it has no like that can be drawn.
    """
    blank: dict[str, Curve] = {
        "line": Line(start=(0, 0), end=(1, 0)),
        "circle": Circle(centre=(0, 0), radius=1),
        "arc": Arc(centre=(0, 0), start=(1, 0), end=(0, 1)),
        "ellipse": Ellipse(centre=(0, 0), along=(1, 0), across=(0, 1)),
        "elliptic_arc": EllipticArc(centre=(0, 0), along=(1, 0), across=(0, 1), start=(1, 0), end=(0, 1)),
        "point": Point(at=(0, 0)),
    }
    if c.kind == "controlled":
        points = tuple((c.values[i], c.values[i + 1]) for i in range(0, len(c.values), 2))
        return Spline(points=points)
    if c.kind not in blank:
        raise UserFault(f"a traced {c.kind} cannot be made one's own", "", "leave it traced")
    return put_at(blank[c.kind], c.values)


def make_own(family: Family, at: Scope, sketch: str, keys: list[str], solved: SketchResult) -> Family:
    """Traced curves become curves drawn here, where they stand; feeds that nothing else uses go.

    Raises:
        UserFault: one of them has no like that can be drawn.
    """
    record = edits.operation(family, at.document, sketch)
    assert isinstance(record, Sketch)
    curves = dict(record.curves)
    for key in keys:
        old = curves.get(key)
        if isinstance(old, Trace) and key in solved.curves:
            like = drawn_like(solved.curves[key])
            curves[key] = edits.replace(
                like, helper=(old.helper and not isinstance(like, Point)) or isinstance(like, Point)
            )
    family = edits.replace_operation(family, at.document, edits.replace(record, curves=curves))
    return without_unused_feeds(family, at.document)


def without_unused_feeds(family: Family, document_id: str) -> Family:
    """Feeds whose sockets nothing in the document holds any more are taken out."""
    document = edits.model(family, document_id)
    feeds = {}
    for key, feed in document.feeds.items():
        used = {s for s in feed.sockets if feed.sockets[s].takes == "layout" or edits.users(family, document_id, s)}
        if used:
            feeds[key] = edits.replace(feed, sockets={k: s for k, s in feed.sockets.items() if k in used})
    return edits.put(family, edits.replace(document, feeds=feeds))


def _with_offset(
    family: Family,
    at: Scope,
    sketch: str,
    made: dict[str, Trace],
    solved: SketchResult,
    wish: Wish,
    make_id: IdSource,
) -> Family:
    """Chains at a distance from what was traced, which follow it."""
    now = ask(family, [Node("solve", at, sketch), *_dimensions(family, at, sketch)])
    editing = begin(family, at, sketch, now, make_id)
    keys = [k for k in made if solved.curves[k].kind in ("line", "arc", "circle")]
    if not keys:
        raise UserFault("none of this can be offset", sketch, "trace lines, arcs or circles")
    offsets.offset_all(editing, keys, wish.offset, wish.side == "inside")
    return editing.stored()


def _dimensions(family: Family, at: Scope, sketch: str) -> list[Node]:
    record = edits.operation(family, at.document, sketch)
    assert isinstance(record, Sketch)
    return [Node("value", at, c.id) for c in record.constraints if c.value is not None]

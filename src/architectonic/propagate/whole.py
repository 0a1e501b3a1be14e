"""Evaluating whole documents: all that a report says of them."""

from __future__ import annotations

from dataclasses import replace

from architectonic.base.cancel import CancelToken
from architectonic.describe.assembly.plans import PlacedBody
from architectonic.describe.models.documents import kind_of
from architectonic.describe.models.drawn import BODY, picture, threaded
from architectonic.describe.results import BodyState, ModelState, Node
from architectonic.family.operations.surfaces.trim import Trim
from architectonic.family.records import Body, Family, Model
from architectonic.family.scopes import Scope, said
from architectonic.propagate.evaluation import Evaluation, Progress
from architectonic.propagate.evaluator import Evaluator, Pass
from architectonic.propagate.keys import encode, key_of
from architectonic.propagate.targets import Look, bodies_of, of_scope


def evaluate_scopes(
    evaluator: Evaluator,
    family: Family,
    scopes: list[Scope],
    meshes: tuple[Look, ...] = (),
    cancel: CancelToken | None = None,
    progress: Progress | None = None,
    measured: bool = True,
    quick: bool = False,
    urgency: int | None = None,
) -> Evaluation:
    """Evaluate everything in some scopes, bodies measured unless that can wait.

    Args:
        meshes: whose bodies are wanted as triangles, before they are measured without threads that have to be modelled first.
        quick: coarse ones will do for bodies that have none yet.
    """
    return asked(evaluator.begin(family, cancel, progress, urgency), scopes, meshes, measured, quick)


def asked(
    run: Pass, scopes: list[Scope], meshes: tuple[Look, ...] = (), measured: bool = True, quick: bool = False
) -> Evaluation:
    """The same in a pass that is under way: what it knows already is not asked again."""
    family = run.family
    first = run.all([n for at in scopes for n in of_scope(family, at)])
    more: list[Node] = []
    for at in scopes if measured else ():
        more += kind_of(family.documents[at.document]).later(family, family.documents[at.document], at)
        state = first.value(Node("finished", at, ""))
        if isinstance(state, ModelState):
            ids = tuple(b.id for b in state.bodies)
            more += bodies_of(family, at, ids, ("measure",))
            more += [Node("bored", at, b.id) for b in state.bodies if b.attributes]
            more += [Node("drawn", at, b.id) for b in state.bodies if threaded(b) is not None]
            more += [Node("relations", at, "")] if len(ids) > 1 else []
            more += [Node("mass", at, b) for b in ids if _has_density(family, at, b)]
        for placed in first.value(Node("assembly", at, "")) or ():
            more += [b.node("bored") for b in placed.bodies if _has_holes(first, b)]
            more += [b.node("drawn") for b in placed.bodies if _has_threads(first, b)]
    for look in meshes:
        shown = look.state(family)
        state = first.value(shown)
        for body in state.bodies if isinstance(state, ModelState) else ():
            what = "coarse" if quick else "mesh" if measured or threaded(body) is None else "plain"
            what = "mesh" if _is_at_hand(run.owner, body) else what
            more.append(Node(what, look.at, body.id, shown.item))
        document = family.documents[look.at.document]
        for trim in (o for o in getattr(document, "build", ()) if isinstance(o, Trim) and measured):
            pieces = first.value(Node("pieces", look.at, trim.id)) or ()
            more += [Node("piece", look.at, trim.id, str(k)) for k in range(len(pieces))]
        placed = first.value(Node("assembly", look.at, ""))
        more += [b.node("mesh") for p in placed or () for b in p.bodies]
    if not more:
        return first
    second = run.all(more)
    instead = {n._replace(what="mesh"): second.outcomes[n] for n in more if n.what in ("coarse", "plain")}
    return replace(second, outcomes=second.outcomes | instead) if instead else second


def _is_at_hand(evaluator: Evaluator, body: BodyState) -> bool:
    """Whether the exact picture of a body is known."""
    recipe, shape = threaded(body), body.shape
    if recipe is not None:
        if not evaluator.knows(recipe):
            return False
        shape = f"{key_of(recipe, encode(recipe.payload))}.{BODY}"
    return evaluator.knows(picture(body, shape))


def _has_holes(known: Evaluation, placed: PlacedBody) -> bool:
    state = known.value(placed.node("finished"))
    return isinstance(state, ModelState) and any(b.id == placed.item and b.attributes for b in state.bodies)


def _has_threads(known: Evaluation, placed: PlacedBody) -> bool:
    state = known.value(placed.node("finished"))
    return isinstance(state, ModelState) and any(b.id == placed.item and threaded(b) for b in state.bodies)


def _has_density(family: Family, at: Scope, body: str) -> bool:
    document = family.documents[at.document]
    record = document.bodies.get(body) if isinstance(document, Model) else None
    return isinstance(record, Body) and (record.density is not None or bool(said(family, at, "material")))

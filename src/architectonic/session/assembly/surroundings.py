"""What surrounds a document: layouts that it takes whole as its frame, and its neighbours in an assembly.

What surrounds is there to look at, to snap to and to trace. It is never part of the document: it has no mass in it, and
no operation acts on it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from architectonic.base import rigid
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.results import Node
from architectonic.family import edits, scopes
from architectonic.family.names import free_name
from architectonic.family.records import Assembly, Context, Family, Feed, Instance, Model, Reference, Socket
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import Look


def frames_of(family: Family, document_id: str) -> list[str]:
    """Ids of the layouts that a document takes whole, in the order of its feeds."""
    document = family.documents.get(document_id)
    feeds = document.feeds.values() if isinstance(document, Model) else ()
    found = [s.source.of for f in feeds for s in f.sockets.values() if s.takes == "layout" and f.state != "severed"]
    return [k for k in dict.fromkeys(found) if k in family.documents]


class Use(NamedTuple):
    """A part in an assembly: the instances that lead to it, what is shown of it, and where it stands."""

    path: tuple[str, ...]
    at: Scope
    stands: Rigid


Stood = Callable[[Family, Scope, Instance], Rigid]
"""Where an instance of an assembly stands in it."""


def as_stored(family: Family, at: Scope, instance: Instance) -> Rigid:
    """Where it starts, whatever joints and rules say."""
    return scopes.starts(family, at, instance)[1] or IDENTITY


def as_evaluated(evaluation: Evaluation | None) -> Stood:
    """Where it came to stand, as far as that is known."""

    def stood(family: Family, at: Scope, instance: Instance) -> Rigid:
        placed = evaluation.value(Node("placed", at, instance.id)) if evaluation is not None else None
        return placed.placement if placed is not None else as_stored(family, at, instance)

    return stood


def placed_below(
    family: Family, assembly: Assembly, at: Scope, above: Use | None = None, stood: Stood = as_stored
) -> list[Use]:
    """Uses of parts in an assembly and in all assemblies below it."""
    path, stands = (above.path, above.stands) if above is not None else ((), IDENTITY)
    found: list[Use] = []
    for instance in assembly.instances:
        # one that an expression chooses is known by its evaluation; by the records it may be any
        for there in scopes.filling(family, at, scopes.fill(family, at, instance)[1])[:1]:
            source = family.documents[there.document]
            use = Use((*path, instance.id), there, rigid.times(stands, stood(family, at, instance)))
            found += placed_below(family, source, there, use, stood) if isinstance(source, Assembly) else [use]
    return found


def looks_behind(
    family: Family, document_id: str, context: str, size: str, stood: Stood = as_stored, alternate: str = ""
) -> list[Look]:
    """What is seen behind a document: layouts taken whole, and the other parts of the assembly that it is in.

    Args:
        context: id of that assembly, "" for none; stood: where its instances stand; alternate: in which it is seen.
    """
    found = [Look(scopes.scope(family, k, scopes.shown_as(family, k, size))) for k in frames_of(family, document_id)]
    around = family.documents.get(context)
    if isinstance(around, Assembly):
        uses = placed_below(
            family,
            around,
            scopes.scope(family, context, scopes.shown_as(family, context, size), alternate),
            stood=stood,
        )
        own = next((u for u in uses if u.at.document == document_id), None)
        home = rigid.inverse(own.stands) if own is not None else IDENTITY
        known = {look.at for look in found}
        frames = [scopes.scope(family, k, size) for k in frames_of(family, context)]
        found += [Look(at, stands=home, among=context) for at in frames if at not in known]
        found += [
            Look(u.at, path=u.path, stands=rigid.times(home, u.stands), among=context)
            for u in uses
            if u.at.document != document_id
        ]
    return list(dict.fromkeys(found))


def assemblies_with(family: Family, document_id: str) -> list[str]:
    """Ids of the assemblies that place a document, those nearest to it first."""
    found = [
        d.id
        for d in family.documents.values()
        if isinstance(d, Assembly) and any(f.document == document_id for i in d.instances for f in i.every_fill)
    ]
    for key in list(found):
        found += [k for k in assemblies_with(family, key) if k not in found]
    return found


def context_of(
    family: Family,
    assembly_id: str,
    neighbour: str,
    own: str = "",
    alternate: str = "",
    path: tuple[str, ...] = (),
) -> Context | None:
    """Through which assembly a neighbour is seen by a document.

    Args:
        neighbour, own: ids of both documents; own "" for the assembly itself.
        alternate: of the assembly; path: ids of the instances that lead to the neighbour, () for its first use.

    Returns:
        None when the assembly places no such neighbour and takes no layout of it whole.
    """
    found = path or _path(family, assembly_id, neighbour)
    if not found and neighbour not in frames_of(family, assembly_id):
        return None
    home = _path(family, assembly_id, own) if own else ()
    return Context(path=(assembly_id, *found), home=home, alternate=alternate)


def _path(family: Family, assembly_id: str, document_id: str) -> tuple[str, ...]:
    assembly = family.documents.get(assembly_id)
    for instance in assembly.instances if isinstance(assembly, Assembly) else ():
        for fill in instance.every_fill:
            below = () if fill.document == document_id else _path(family, fill.document, document_id)
            if below or fill.document == document_id:
                return (instance.id, *below)
    return ()


def take_whole(family: Family, document_id: str, layout_id: str, make_id: IdSource = new_id) -> Family:
    """Let a document take a layout whole, as its common frame: same origin, seen behind it, to snap to and trace.

    Raises:
        UserFault: it is no layout, or taken already.
    """
    document, layout = edits.model(family, document_id), edits.document(family, layout_id)
    if layout.kind != "layout":
        raise UserFault("only a layout is taken whole", layout.name, "take single curves, faces or planes of it")
    if layout_id == document_id or layout_id in frames_of(family, document_id):
        raise UserFault(f"{document.name} takes it whole already", layout.name)
    name = free_name(f"{layout.name} whole", [f.name for f in document.feeds.values()])
    socket = Socket(takes="layout", source=Reference(of=layout_id, item=""))
    return edits.add_feed(family, document_id, make_id(), Feed(name=name, sockets={make_id(): socket}))

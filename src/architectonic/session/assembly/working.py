"""Bodies that a document goes on with: of instances that an assembly works on in place, and of other documents that a
part is fed."""

from __future__ import annotations

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.family import edits, names
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.bodies.bring_in import BringIn, BroughtBody, brought_in
from architectonic.family.records import (
    Assembly,
    Body,
    Context,
    Expression,
    Family,
    Feed,
    Model,
    Reference,
    Socket,
    Stage,
    use_of,
)
from architectonic.family.scopes import InPlace, Scope
from architectonic.family.walk import surfaces_of


def bodies_below(
    family: Family, assembly_id: str, path: tuple[str, ...] = (), names_: tuple[str, ...] = ()
) -> dict[InPlace, str]:
    """Bodies that may stand in an assembly, in whichever alternate, with what they are called: `Arm / Tube / Cap`."""
    found: dict[InPlace, str] = {}
    for instance in edits.assembly(family, assembly_id).instances:
        way, called = (*path, instance.id), (*names_, instance.name)
        for key in dict.fromkeys(f.document for f in instance.every_fill if f.document in family.documents):
            source = family.documents[key]
            if isinstance(source, Assembly):
                found |= bodies_below(family, key, way, called)
            elif isinstance(source, Model):
                found |= {
                    InPlace(way, Scope(key, ""), b): " / ".join((*called, s.name)) for b, s in source.bodies.items()
                }
    return found


def work_on(
    family: Family, assembly_id: str, bodies: list[InPlace], before: str = "", make_id: IdSource = new_id
) -> tuple[Family, dict[InPlace, str]]:
    """Let an assembly work on bodies of its instances where they stand; the parts stay as they are.

    Args:
        before: the operation of the assembly that they are brought in before; "" for the end of its list.

    Returns:
        The family, and the id that each body has in the assembly.

    Raises:
        UserFault: nothing is chosen, or something that no instance of the assembly shows.
    """
    assembly = edits.assembly(family, assembly_id)
    if not bodies:
        raise UserFault("no body is chosen to work on", assembly.name, "pick bodies of what stands here")
    if any(not b.path for b in bodies):
        raise UserFault("this is no body of an instance", assembly.name, "pick bodies of what stands here")
    known = brought_in(assembly.build)
    found = {b: known.get((b.path, b.document, b.body), "") for b in bodies}
    made: dict[str, BroughtBody] = {}
    for body, key in found.items():
        if not key:
            found[body] = key = make_id()
            made[key] = BroughtBody(
                source=Reference(of=body.document, item=body.body),
                within=body.path,
                surface=body.body in surfaces_of(edits.model(family, body.document)),
            )
            family = edits.add_body(family, assembly_id, key, _like(family, assembly_id, body))
    if not made:
        return family, found
    return _bring_in(family, assembly_id, made, before, make_id), found


def _like(family: Family, assembly_id: str, body: InPlace) -> Body:
    """What is said of a body in its part, under a name that is free in the assembly: that of the instance that shows it,
    or of the part where several may."""
    part, assembly = edits.model(family, body.document), edits.assembly(family, assembly_id)
    said = part.bodies[body.body]
    instance = next((i for i in assembly.instances if i.id == use_of(body.path[0])[0]), None)
    alone = instance is not None and len({f.document for f in instance.every_fill if f.document}) == 1
    holder = instance.name if instance is not None and alone else part.name
    name = f"{holder} {said.name}" if len(part.bodies) > 1 else holder
    taken = [b.name for b in assembly.bodies.values()]
    return edits.replace(said, name=names.free_name(name, taken), density=None, group="")


def _bring_in(family: Family, document_id: str, made: dict[str, BroughtBody], before: str, make_id: IdSource) -> Family:
    """Bodies brought in by the operation just before, or else by one of their own."""
    document = edits.model(family, document_id)
    ids = [o.id for o in document.build]
    earlier = document.build[: ids.index(before)] if before in ids else document.build
    last = next((o for o in reversed(earlier) if isinstance(o, BodyOperation)), None)
    if isinstance(last, BringIn):
        return edits.replace_operation(family, document_id, edits.replace(last, bodies={**last.bodies, **made}))
    name = names.free_name("Bring in", [o.name for o in document.build])
    return edits.add_operation(family, document_id, BringIn(id=make_id(), name=name, bodies=made), before)


def feed_bodies(
    family: Family,
    target: str,
    source: Scope,
    bodies: list[str],
    name: str = "",
    context: Context | None = None,
    stage: Stage = "finished",
    make_id: IdSource = new_id,
) -> tuple[Family, dict[str, str]]:
    """Bodies of another document as bodies of a part, that go on following it.

    Args:
        source: what they are bodies of; a part.
        context: through which assembly they are seen, if they are.
        stage: as after which operation they are taken.

    Returns:
        The family, and the id that each body has in the part.

    Raises:
        UserFault: nothing is chosen, or the name of the feed is taken.
    """
    document, driver = edits.model(family, target), edits.model(family, source.document)
    if not bodies:
        raise UserFault("no body is chosen to take", driver.name, "pick bodies of it first")
    if target == source.document:
        raise UserFault("a document needs no feed from itself", driver.name, "copy the body instead")
    sockets = {make_id(): b for b in bodies}
    taken = [f.name for f in document.feeds.values()]
    called = names.check_name(name, taken, "feed") if name else names.free_name(f"bodies of {driver.name}", taken)
    feed = Feed(
        name=called,
        sockets={
            k: Socket(takes="body", source=Reference(of=driver.id, item=b, context=context, stage=stage))
            for k, b in sockets.items()
        },
    )
    family = edits.add_feed(family, target, make_id(), feed)
    made, found = {}, {}
    for socket, body in sockets.items():
        found[body] = key = make_id()
        made[key] = BroughtBody(source=Reference(item=socket), surface=body in surfaces_of(driver))
        said = driver.bodies[body]
        here = [b.name for b in edits.model(family, target).bodies.values()]
        said = edits.replace(said, name=names.free_name(said.name, here), density=_density(said), group="")
        family = edits.add_body(family, target, key, said)
    return _bring_in(family, target, made, "", make_id), found


def _density(said: Body) -> Expression | None:
    """A density that names nothing of its document; another one is given anew."""
    return said.density if said.density is not None and not said.density.refs else None

"""Part items as they are offered from the shapes of bodies, and parts divided into documents that go on following them."""

from __future__ import annotations

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.describe.references.relations import Relations
from architectonic.describe.results import ModelState, Node
from architectonic.family import edits, names
from architectonic.family.documents.part import Part, PartItem
from architectonic.family.records import Family, Fill
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.assembly import working


def offered(evaluation: Evaluation, at: Scope, make_id: IdSource = new_id) -> list[PartItem]:
    """An item for each body that is in none yet: bodies of one shape as one item with so many pieces, mirrored ones as its
    opposite.

    Raises:
        UserFault: how the bodies compare is not known yet.
    """
    document = edits.part(evaluation.family, at.document)
    state, relations = (evaluation.value(Node(what, at, "")) for what in ("finished", "relations"))
    if not isinstance(state, ModelState) or (len(state.bodies) > 1 and not isinstance(relations, Relations)):
        raise UserFault("how its bodies compare is not known yet", document.name, "wait until it is worked out")
    held = {b for i in document.part_items for b in i.bodies}
    free = [b.id for b in state.bodies if b.id not in held and not document.bodies[b.id].backdrop_only]
    like = {b: (a, mirrored) for b, a, mirrored in relations.alike} if isinstance(relations, Relations) else {}
    groups: dict[tuple[str, bool], list[str]] = {}
    for body in free:
        first, mirrored = like.get(body, (body, False))
        groups.setdefault((first if first in free else body, mirrored and first in free), []).append(body)
    taken = [i.name for i in document.part_items]
    made: dict[tuple[str, bool], PartItem] = {}
    for (first, mirrored), bodies in groups.items():
        base = document.bodies[first].name
        name = names.free_name(f"{base} opposite" if mirrored else base, taken)
        taken.append(name)
        original = made.get((first, False))
        made[first, mirrored] = PartItem(
            id=make_id(),
            name=name,
            bodies=tuple(bodies),
            apart=len(bodies) > 1,
            opposite=original.id if mirrored and original is not None else "",
        )
    return list(made.values())


def grouped(family: Family, part_id: str, keys: list[str], name: str, make_id: IdSource = new_id) -> Family:
    """A heading with items under it.

    Raises:
        UserFault: nothing is chosen, or the name is taken.
    """
    found = edits.part(family, part_id)
    if not keys:
        raise UserFault("no part item is chosen", found.name, "choose what stands under it")
    chosen = [edits.part_item(found, k) for k in keys]
    head = PartItem(id=make_id(), name=name, within=chosen[0].within)
    return edits.put_part_items(family, part_id, [head, *(edits.replace(i, within=head.id) for i in chosen)])


def divide(
    family: Family, part_id: str, keys: list[str], assembly: str = "", make_id: IdSource = new_id
) -> tuple[Family, list[str]]:
    """A document for each of some items of a part, with its bodies fed from the part.

    Args:
        keys: of items with bodies; of one whose bodies are pieces of their own, the first becomes the document.
        assembly: the name of an assembly that places them where they were; "" for none.

    Returns:
        The family, and the ids of the documents.

    Raises:
        UserFault: nothing is chosen, or a name or number is taken.
    """
    part = edits.part(family, part_id)
    chosen = [i for i in (edits.part_item(part, k) for k in keys) if i.bodies]
    if not chosen:
        raise UserFault("no part item with bodies is chosen", part.name, "make items of its bodies first")
    made: list[str] = []
    whole = ""
    if assembly:
        family, whole = edits.add_document(family, "assembly", assembly, make_id)
    for item in chosen:
        taken = [d.name for d in family.documents.values()]
        family, key = edits.add_document(family, "part", names.free_name(item.name, taken), make_id)
        number = item.number if all(d.number != item.number for d in family.documents.values()) else ""
        family = edits.put(family, edits.replace(edits.document(family, key), number=number, note=item.note))
        pieces = item.bodies[:1] if item.apart else item.bodies
        family, found = working.feed_bodies(family, key, Scope(part_id, ""), list(pieces), make_id=make_id)
        own = PartItem(
            id=make_id(), name=item.name, finish=item.finish, supply=item.supply, bodies=tuple(found.values())
        )
        family = edits.put_part_items(family, key, [own])
        made.append(key)
        if whole and not item.apart:
            family = edits.add_instance(family, whole, key, new_id=make_id)
        elif whole:  # the pieces lie elsewhere: they are shown as the part has them
            family = edits.add_instance(
                family, whole, part_id, names.free_name(item.name, _placed(family, whole)), make_id
            )
            last = edits.assembly(family, whole).instances[-1]
            family = edits.set_fill(family, whole, last.id, Fill(document=part_id, item=item.id))
    return family, made


def _placed(family: Family, assembly: str) -> list[str]:
    return [i.name for i in edits.assembly(family, assembly).instances]


def holder(part: Part, body: str) -> PartItem | None:
    """The item that a body belongs to."""
    return next((i for i in part.part_items if body in i.bodies), None)

"""Edits of part items: what of a part is made, bought and counted by itself."""

from __future__ import annotations

from collections.abc import Iterable

from architectonic.base.errors import UserFault
from architectonic.family import names
from architectonic.family.documents.part import Part, PartItem
from architectonic.family.edits.documents import document, put, replace
from architectonic.family.records import Family


def part(family: Family, document_id: str) -> Part:
    """A document that has part items."""
    found = document(family, document_id)
    if not isinstance(found, Part):
        raise UserFault(f"a {found.kind} has no part items", found.name, "only bodies of a part become items")
    return found


def part_item(found: Part, key: str) -> PartItem:
    """A part item by id.

    Raises:
        UserFault: it is not there any more.
    """
    for item in found.part_items:
        if item.id == key:
            return item
    raise UserFault("this part item is not there any more", found.name)


def put_part_items(family: Family, document_id: str, made: Iterable[PartItem]) -> Family:
    """Add part items, or put them in the place of those with their ids.

    Raises:
        UserFault: a name or number is taken, a body is in another item or gone, a quantity is below one, an item would
            stand under itself.
    """
    found = part(family, document_id)
    rows = {i.id: i for i in found.part_items}
    for item in made:
        others = [i for i in rows.values() if i.id != item.id]
        name = names.check_name(item.name, [i.name for i in others], "part item")
        item = replace(item, name=name, number=item.number.strip(), note=item.note.strip(), finish=item.finish.strip())
        taken = next((i.name for i in others if item.number and i.number == item.number), "")
        if taken:
            raise UserFault(f"{taken} has the number {item.number}", name, "choose another one")
        if item.quantity < 1:
            raise UserFault(f"{item.quantity} is no number of pieces", name, "give one or more")
        for body in item.bodies:
            if body not in found.bodies:
                raise UserFault("one of its bodies is gone", name, "choose its bodies again")
            holder = next((i.name for i in others if body in i.bodies), "")
            if holder:
                told = f"{found.bodies[body].name} belongs to {holder}"
                raise UserFault(told, name, "take it out of that one first")
        rows[item.id] = item
    for item in rows.values():
        _above(rows, item)
    return put(family, replace(found, part_items=tuple(rows.values())))


def _above(rows: dict[str, PartItem], item: PartItem) -> None:
    seen, current = {item.id}, item.within
    while current:
        if current in seen:
            raise UserFault("an item cannot stand under itself", item.name, "choose another one")
        if current not in rows:
            raise UserFault("the item that it stands under is gone", item.name, "choose another one")
        seen.add(current)
        current = rows[current].within


def drop_part_item(family: Family, document_id: str, key: str) -> Family:
    """Take an item out of the lists; its bodies stay, and what stood under it stands where it did.

    Raises:
        UserFault: it is placed by itself somewhere, or gone.
    """
    found = part(family, document_id)
    gone = part_item(found, key)
    users = [
        f"{d.name} / {i.name}"
        for d in family.documents.values()
        for i in getattr(d, "instances", ())
        if any(f.item == key for f in i.every_fill)
    ]
    if users:
        raise UserFault(f"{', '.join(users)} shows it by itself", gone.name, "fill that with something else first")
    kept = tuple(
        replace(
            i,
            within=gone.within if i.within == key else i.within,
            opposite="" if i.opposite == key else i.opposite,
        )
        for i in found.part_items
        if i.id != key
    )
    return put(family, replace(found, part_items=kept))


def below(found: Part, key: str) -> tuple[PartItem, ...]:
    """An item and all that stand under it, in the order of the list."""
    wanted = {key}
    while True:
        more = {i.id for i in found.part_items if i.within in wanted} - wanted
        if not more:
            break
        wanted |= more
    return tuple(i for i in found.part_items if i.id in wanted)

"""Edits of alternates: rows of an assembly, and the cells in which each differs from the one it follows."""

from __future__ import annotations

from collections.abc import Mapping

from architectonic.base import ids as id_source
from architectonic.base import rigid
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.family import names, scopes
from architectonic.family.documents.assembly import (
    QUANTITY,
    TAKES,
    Alternate,
    Assembly,
    Bond,
    BondValues,
    Fill,
    Instance,
    Mounting,
)
from architectonic.family.edits import cells
from architectonic.family.edits.bonds import bond_of, instance_of, put_bond, put_instance
from architectonic.family.edits.building import contained
from architectonic.family.edits.documents import assembly, document, duplicate_document, put, replace
from architectonic.family.operations.base import Switch, Turned
from architectonic.family.records import MATCH, SELF, STANDARD, AnyDocument, Expression, Family, Reference, Socket
from architectonic.family.walk import Pointer, index, items, leads_to, pointers_in
from architectonic.quantities import units


def find_alternate(family: Family, assembly_id: str, name: str) -> str:
    """Id of an alternate by name.

    Raises:
        UserFault: unknown; lists what there is.
    """
    found = document(family, assembly_id)
    for row in scopes.alternates(found):
        if name in (row.name, names.identifier(row.name)):
            return row.id
    known = ", ".join(r.name for r in scopes.alternates(found))
    raise UserFault(
        f"there is no alternate “{name}” of {found.name}", "", f"there are {known}" if known else "it has none"
    )


def alternate(found: Assembly, key: str) -> Alternate:
    """An alternate by id.

    Raises:
        UserFault: it is not there any more.
    """
    for row in found.alternates:
        if row.id == key:
            return row
    raise UserFault("this alternate is not there any more", found.name)


def add_alternate(
    family: Family, assembly_id: str, name: str, parent: str = "", new_id: IdSource = id_source.new_id
) -> tuple[Family, str]:
    """A new alternate, the same as the one that it follows until something of its own is said; after that one's children.

    Raises:
        UserFault: the name is taken or unusable.
    """
    found = assembly(family, assembly_id)
    called = names.check_name(name, [a.name for a in found.alternates], "alternate")
    made = Alternate(id=new_id(), name=called, parent=parent)
    kin = {parent} | descendants(found, parent) if parent else set()
    at = max((k + 1 for k, a in enumerate(found.alternates) if a.id in kin), default=len(found.alternates))
    rows = (*found.alternates[:at], made, *found.alternates[at:])
    return put(family, replace(found, alternates=rows)), made.id


def descendants(found: Assembly, key: str) -> set[str]:
    """Ids of the alternates that follow one, directly or not."""
    below: set[str] = set()
    while True:
        more = {a.id for a in found.alternates if a.parent in below | {key}} - below
        if not more:
            return below
        below |= more


def change_alternate(
    family: Family,
    assembly_id: str,
    key: str,
    name: str | None = None,
    parent: str | None = None,
    number: str | None = None,
    note: str | None = None,
) -> Family:
    """Change what is said of an alternate, or which one it follows.

    Raises:
        UserFault: the name is taken; it would follow itself.
    """
    found = assembly(family, assembly_id)
    changed = alternate(found, key)
    if name is not None:
        changed = replace(
            changed, name=names.check_name(name, [a.name for a in found.alternates if a.id != key], "alternate")
        )
    if parent is not None:
        if parent == key or parent in descendants(found, key):
            raise UserFault(f"“{changed.name}” would follow itself", found.name, "choose one that does not follow it")
        changed = replace(changed, parent=parent)
    changed = replace(
        changed,
        number=changed.number if number is None else " ".join(number.split()),
        note=changed.note if note is None else note.strip(),
    )
    return put(family, replace(found, alternates=tuple(changed if a.id == key else a for a in found.alternates)))


def move_alternate(family: Family, assembly_id: str, key: str, before: str = "") -> Family:
    """Put an alternate before another one, or at the end. The first one is what is taken where none is asked for."""
    found = assembly(family, assembly_id)
    moved = alternate(found, key)
    rest = [a for a in found.alternates if a.id != key]
    at = next((k for k, a in enumerate(rest) if a.id == before), len(rest))
    return put(family, replace(found, alternates=(*rest[:at], moved, *rest[at:])))


def duplicate_alternate(
    family: Family, assembly_id: str, key: str, name: str, new_id: IdSource = id_source.new_id
) -> tuple[Family, str]:
    """A copy of an alternate with all its own cells, that follows the same one."""
    row = alternate(assembly(family, assembly_id), key)
    family, made = add_alternate(family, assembly_id, name, row.parent, new_id)
    family = move_alternate(family, assembly_id, made, _after(assembly(family, assembly_id), key, made))
    found = assembly(family, assembly_id)
    return put(family, cells.with_cells(found, cells.copied(key, made))), made


def _after(found: Assembly, key: str, but: str) -> str:
    rows = [a.id for a in found.alternates if a.id != but]
    return rows[rows.index(key) + 1] if rows[-1] != key else ""


def delete_alternate(family: Family, assembly_id: str, key: str) -> Family:
    """Take an alternate out. Those that followed it keep what they had of it; what only the last one said holds for all.

    Who uses it elsewhere reports that it is gone.
    """
    found = assembly(family, assembly_id)
    gone = alternate(found, key)
    heirs = [a.id for a in found.alternates if a.parent == key]
    last = len(found.alternates) == 1
    rows = tuple(replace(a, parent=gone.parent) if a.parent == key else a for a in found.alternates if a.id != key)

    kept = cells.with_cells(_as_common(found, key) if last else found, cells.handed(key, heirs))
    return put(family, replace(kept, alternates=rows))


def _as_common(found: Assembly, key: str) -> Assembly:
    """An assembly in which what one alternate says is common to all."""

    def instance(i: Instance) -> Instance:
        fill = i.fills.get(key)
        said = {} if fill is None else {f: getattr(fill, f) for f in Fill.__struct_fields__}
        return replace(i, placement=i.stands.get(key, i.placement), **said)

    def bond(b: Bond) -> Bond:
        own = b.own.get(key)
        said = {f: v for f in BondValues.__struct_fields__ if (v := getattr(own, f, None)) is not None}
        return replace(b, switch=switch(b.switch), **said)

    def switch(s: Switch) -> Switch:
        return replace(s, default=s.own.get(key, s.default))

    return replace(
        found,
        instances=tuple(instance(i) for i in found.instances),
        bonds=tuple(bond(b) for b in found.bonds),
        parameters=tuple(replace(p, common=p.own.get(key, p.common)) for p in found.parameters),
        build=tuple(replace(o, switch=switch(o.switch)) for o in found.build),
    )


def users_of_alternate(family: Family, assembly_id: str, key: str) -> list[str]:
    """Who takes an alternate: instances that show it, feeds, expressions and what is seen in it: `Light / Stand`."""

    def takes(p: Pointer, of: str) -> bool:
        there = of if leads_to(p) == SELF else leads_to(p)
        context = getattr(p, "context", None)
        seen = context is not None and context.path[0] == assembly_id and context.alternate == key
        return seen or (there == assembly_id and p.alternate == key)

    return [
        f"{d.name} / {record.name}"
        for d in family.documents.values()
        for _, record in items(d)
        if not isinstance(record, Socket) and any(takes(p, d.id) for p in pointers_in(record))  # its feed is told
    ]


# --- cells ----------------------------------------------------------------------------------------------


def set_fill(family: Family, assembly_id: str, instance: str, fill: Fill | None, cell: str = "") -> Family:
    """Say what fills an instance, in one alternate, size or row, or wherever none says otherwise (cell "").

    Joints and rules on the instance find their places on what comes in by the names that datums have in both.

    Args:
        fill: None follows the others again.

    Raises:
        UserFault: the document is not there, an assembly would contain itself, there is no such alternate.
    """
    found = assembly(family, assembly_id)
    placed = instance_of(found, instance)
    if fill is None:
        kept = {k: f for k, f in placed.fills.items() if k != cell}
        return put_instance(family, found, replace(placed, fills=kept))
    if fill.document:
        source = document(family, fill.document)
        if not source.placeable:
            raise UserFault(f"a {source.kind} cannot be placed", source.name, "place a part or an assembly")
        if source.id == assembly_id or assembly_id in contained(family, source.id):
            raise UserFault(f"“{source.name}” contains this assembly; it cannot be placed in itself", found.name)
        if fill.alternate and all(a.id != fill.alternate for a in scopes.alternates(source)):
            raise UserFault(f"{source.name} has no such alternate any more", placed.name, "choose another one")
        if fill.item and all(i.id != fill.item for i in getattr(source, "part_items", ())):
            raise UserFault(f"{source.name} has no such part item any more", placed.name, "choose another one")
    plain = Fill(**{f: getattr(fill, f) for f in Fill.__struct_fields__})
    if cell:
        placed = replace(placed, fills={**placed.fills, cell: plain})
    else:
        placed = replace(placed, **{f: getattr(plain, f) for f in Fill.__struct_fields__})
    family = put_instance(family, found, placed)
    return _with_places(family, assembly_id, instance, fill.document) if fill.document else family


def fork_instance(
    family: Family, assembly_id: str, instance: str, name: str, cell: str = "", new_id: IdSource = id_source.new_id
) -> tuple[Family, str]:
    """Fill an instance with a copy of what fills it, that shares nothing with it from then on; joints and rules stay.

    Args:
        cell: the alternate, size or row in which it does; "" for wherever none says otherwise.

    Returns:
        The family and the id of the copy.

    Raises:
        UserFault: nothing fills it, or the name is taken.
    """
    placed = instance_of(assembly(family, assembly_id), instance)
    filled: Fill = placed.fills.get(cell, placed)
    if not filled.document:
        raise UserFault("nothing fills this place", placed.name, "fill it first")
    family, made = duplicate_document(family, filled.document, name, new_id)
    fill = replace(Fill(**{f: getattr(filled, f) for f in Fill.__struct_fields__}), document=made)
    return set_fill(family, assembly_id, instance, fill, cell), made


def bind_fill(
    family: Family,
    assembly_id: str,
    source: str,
    configuration: str = MATCH,
    alternate: str = "",
    chosen: str = "",
    item: str = "",
) -> Fill:
    """A fill with its configuration by an expression, as typed.

    Raises:
        UserFault: the expression cannot be used.
    """
    found = assembly(family, assembly_id)
    bound: Expression | None = names.bind_choice(family, found, chosen, source) if chosen else None
    return Fill(document=source, configuration=configuration, alternate=alternate, item=item, chosen=bound)


def _with_places(family: Family, assembly_id: str, instance: str, filler: str) -> Family:
    """Bonds on an instance with the places that they have on what now may fill it."""
    found = assembly(family, assembly_id)

    def end(mount: Mounting) -> Mounting:
        if mount.instance != instance or mount.within or mount.place.item in STANDARD:
            return mount
        if filler == mount.place.of or filler in mount.others or mount.place.of not in family.documents:
            return mount
        place = same_place(family.documents[mount.place.of], family.documents[filler], mount.place)
        return mount if place is None else replace(mount, others={**mount.others, filler: place})

    changed = tuple(replace(b, a=end(b.a), b=end(b.b)) for b in found.bonds)
    return family if changed == found.bonds else put(family, replace(found, bonds=changed))


def same_place(old: AnyDocument, new: AnyDocument, place: Reference) -> Reference | None:
    """The place of one document that is the same in another: of the same id in a copy of it, else of the same name."""
    was, known = index(old).get(place.item), index(new)
    if type(known.get(place.item)) is type(was) and was is not None:
        return replace(place, of=new.id)
    named = getattr(was, "name", "")
    same = [k for k, r in known.items() if type(r) is type(was) and named and getattr(r, "name", "") == named]
    return replace(place, of=new.id, item=same[0], witness=None) if len(same) == 1 and not place.label else None


def stand_at(family: Family, assembly_id: str, placements: Mapping[str, rigid.Rigid], cell: str = "") -> Family:
    """Say where instances stand, or start when bonds place them; in one alternate, size or row, or in all (cell "").

    Raises:
        UserFault: one is not there; a placement stretches or mirrors.
    """
    found = assembly(family, assembly_id)
    for key, placement in placements.items():
        placed = instance_of(found, key)
        if not rigid.is_rigid(placement):
            raise UserFault("this placement stretches or mirrors", placed.name)
        if cell:
            placed = replace(placed, stands={**placed.stands, cell: placement})
        else:
            placed = replace(placed, placement=placement if placement != rigid.IDENTITY else ())
        family = put_instance(family, found, placed)
        found = assembly(family, assembly_id)
    return family


def set_bond_value(family: Family, assembly_id: str, key: str, field: str, text: str, cell: str = "") -> Family:
    """Type a value of a joint or rule in one alternate, size or row, or wherever none says otherwise (cell "").

    Args:
        text: "" follows the others again; nothing drives it where none is left.

    Raises:
        UserFault: this kind takes no such value, or it cannot be used.
    """
    found = assembly(family, assembly_id)
    bond = bond_of(found, key)
    if field not in TAKES[bond.kind]:
        raise UserFault(f"{bond.kind} takes no {field}", bond.name, f"it takes {', '.join(TAKES[bond.kind]) or 'none'}")
    quantity = QUANTITY[field]
    unit = units.DEFAULT_UNIT[quantity]
    bound = names.bind_quantity(family, found, text, quantity, unit) if text.strip() else None
    if field == "lead" and bound is None and not cell:
        raise UserFault("a screw needs its lead", bond.name, "give how far it goes in one turn")
    if not cell:
        return put_bond(family, found, replace(bond, **{field: bound}))
    values = replace(bond.own.get(cell, BondValues()), **{field: bound})
    own = {k: v for k, v in bond.own.items() if k != cell}
    if values != BondValues():
        own[cell] = values
    return put_bond(family, found, replace(bond, own=own))


def bond_text(family: Family, found: Assembly, at: scopes.Scope, bond: Bond, field: str) -> tuple[str, str]:
    """The cell that a value of a bond comes from, and its expression as typed; "" where nothing drives it."""
    cell, expression = scopes.driven(family, at, bond, field)
    return cell, "" if expression is None else names.shown_text(family, found, expression)


def set_bond_switch(family: Family, assembly_id: str, key: str, on: Turned | None, cell: str = "") -> Family:
    """Let a joint or rule hold or not, in one alternate, size or row, or by default (cell ""); None follows again."""
    found = assembly(family, assembly_id)
    bond = bond_of(found, key)
    return put_bond(family, found, replace(bond, switch=bond.switch.turned(on, cell)))

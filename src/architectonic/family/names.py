"""Names for people and identifiers for expressions.

`Cheek L` is written `Cheek_L` in expressions. Identifiers are unique in their scope whatever the case; ids decide
what a stored expression means, so a rename rewrites nothing.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from functools import lru_cache
from typing import NamedTuple

from msgspec.structs import replace

from architectonic.base.errors import UserFault
from architectonic.family import scopes
from architectonic.family.drawn import quantity_of
from architectonic.family.records import (
    DIMENSIONS,
    MATCH,
    PARENT,
    QUANTITY,
    SELF,
    Alternate,
    AnyDocument,
    Bond,
    Configuration,
    Constraint,
    Document,
    Expression,
    Family,
    Measurement,
    Model,
    Parameter,
    Size,
    Sketch,
    Valued,
    ValueRef,
)
from architectonic.family.walk import Same
from architectonic.quantities import units
from architectonic.quantities.compiled import FUNCTIONS, Kind, NameKind, compile_expression, complete
from architectonic.quantities.nodes import CONSTANTS, Name, SyntaxNode
from architectonic.quantities.syntax import names_in, parse
from architectonic.quantities.units import Dimension

RESERVED = {"and", "or", "not", "at", PARENT, *FUNCTIONS, *CONSTANTS}


@lru_cache(maxsize=32768)
def identifier(name: str) -> str:
    """The identifier of a name: letters (of any alphabet), digits and underscores."""
    kept = "".join(c if f"a{c}".isidentifier() else " " for c in name)
    text = re.sub(r"\s+", "_", kept.strip()).strip("_")
    return f"_{text}" if not text[:1].isidentifier() or text.lower() in RESERVED else text


def check_name(name: str, taken: list[str], what: str) -> str:
    """A usable name, stripped.

    Raises:
        UserFault: empty, without any letter, or alike another name.
    """
    name = " ".join(name.split())
    key = identifier(name)
    if not any(c.isalpha() for c in key):
        raise UserFault(f"a {what} needs a name with at least one letter", name)
    if len(name) > 80:
        raise UserFault(f"the name of a {what} has at most 80 characters", name[:20])
    for other in taken:
        if identifier(other).casefold() == key.casefold():
            raise UserFault(f"another {what} is called “{other}”", name, "choose a different name")
    return name


def plain_name(text: str, otherwise: str = "Body") -> str:
    """A usable name from what another program calls something."""
    name = " ".join(text.split())[:60].strip()
    return name if any(c.isalpha() for c in identifier(name)) else f"{otherwise} {name}".strip()


def free_name(name: str, taken: list[str], between: str = " ") -> str:
    """A name, with the first number from 2 (or from its own on) that makes it different from all others."""
    known = {identifier(t).casefold() for t in taken}
    base, number = re.fullmatch(r"(.*?)(\d*)", name).groups()  # type: ignore[union-attr]
    count, between = (int(number), "") if number else (1, between)
    while identifier(name).casefold() in known:
        count += 1
        name = f"{base}{between}{count}"
    return name


class Named(NamedTuple):
    """Something that an expression can name."""

    key: str
    ref: ValueRef
    dimension: Dimension


_FIGURES = {**{k: k for k in ("angle", "area", "volume", "mass")}, "draft": "angle"}
"""Quantities of measurements that are not lengths."""


def dimension_of(item: Valued) -> Dimension:
    """What a parameter, a sketch dimension or a measurement yields."""
    return units.QUANTITIES[quantity_in(item)]


def unit_of(item: Valued) -> str:
    """The unit that a parameter, a sketch dimension or a measurement is shown in."""
    return item.unit if isinstance(item, Parameter) else units.DEFAULT_UNIT[quantity_in(item)]


def quantity_in(item: Valued) -> str:
    """The quantity of a parameter, a sketch dimension, a measurement or a joint."""
    if isinstance(item, Constraint):
        return str(quantity_of(item.kind))
    if isinstance(item, Bond):
        return QUANTITY[item.moves]
    return _FIGURES.get(item.what, "length") if isinstance(item, Measurement) else item.quantity


def values_of(document: AnyDocument) -> Iterator[tuple[str, Valued]]:
    """Identifier and record of everything in a document that has a value."""
    for parameter in document.parameters:
        yield identifier(parameter.name), parameter
    if isinstance(document, Model):
        for operation in document.build:
            if isinstance(operation, Sketch):
                for constraint in operation.constraints:
                    if constraint.kind in DIMENSIONS and constraint.name:
                        yield f"{identifier(operation.name)}.{identifier(constraint.name)}", constraint
        for measurement in document.measurements:
            yield identifier(measurement.name), measurement
    for bond in getattr(document, "bonds", ()):
        if bond.moves:
            yield identifier(bond.name), bond


@lru_cache(maxsize=512)
def _values_by_key(document: Same) -> dict[str, Valued]:
    found: dict[str, Valued] = {}
    for key, item in values_of(document.record):
        found.setdefault(key, item)
    return found


def spelling(family: Family) -> int:
    """A figure that changes when anything that expressions can name is called otherwise."""
    return hash(tuple((d.id, d.name, _keys(Same(d))) for d in family.documents.values()))


@lru_cache(maxsize=512)
def _keys(document: Same) -> int:
    return hash(tuple((key, item.id) for key, item in _values_by_key(document).items()))


@lru_cache(maxsize=512)
def _keys_by_id(document: Same) -> dict[str, str]:
    return {item.id: key for key, item in _values_by_key(document).items()}


def key_by_id(document: AnyDocument, item: str) -> str:
    """What expressions in a document call one of its values; "" for what has no name."""
    return _keys_by_id(Same(document)).get(item, "")


def _own_dimensions(sketch: Sketch | None) -> dict[str, Constraint]:
    """The named dimensions of a sketch by the key that they have inside it."""
    found: dict[str, Constraint] = {}
    for constraint in sketch.constraints if sketch is not None else ():
        if constraint.kind in DIMENSIONS and constraint.name:
            found.setdefault(identifier(constraint.name), constraint)
    return found


class Lookup:
    """What names mean to an expression standing in a document (in a sketch), found one at a time; see `visible`."""

    def __init__(self, family: Family, document: Document, sketch: Sketch | None = None) -> None:
        self.own_id = document.id
        self.inside = _own_dimensions(sketch)
        self.own = family.documents.get(document.id)
        self.others = {identifier(d.name): d for d in family.documents.values()}

    def __call__(self, key: str) -> Named | None:
        """What a key names, None for nothing."""
        item: Valued | None = self.inside.get(key)
        if item is None and self.own is not None:
            item = _values_by_key(Same(self.own)).get(key)
        if item is not None:
            return Named(key, ValueRef(item=item.id), dimension_of(item))
        prefix, _, rest = key.partition(".")
        if prefix == PARENT and self.own is not None:
            item = _values_by_key(Same(self.own)).get(rest)
            return (
                None if item is None else Named(key, ValueRef(item=item.id, configuration=PARENT), dimension_of(item))
            )
        other = self.others.get(prefix)
        item = _values_by_key(Same(other)).get(rest) if other is not None else None
        if other is None or item is None:
            return None
        of = SELF if other.id == self.own_id else other.id
        return Named(key, ValueRef(document=of, item=item.id), dimension_of(item))

    def key(self, ref: ValueRef) -> str | None:
        """The shortest key that names a value, None when nothing does."""
        if ref.configuration == PARENT:
            rest = _keys_by_id(Same(self.own)).get(ref.item) if self.own is not None else None
            return None if rest is None else f"{PARENT}.{rest}"
        document = self.own if ref.document == SELF else None
        if ref.document == SELF:
            inside = next((k for k, c in self.inside.items() if c.id == ref.item), None)
            if inside is not None:
                return inside
            alone = _keys_by_id(Same(document)).get(ref.item) if document is not None else None
            if alone is not None and alone not in self.inside:
                return alone
        for prefix, other in self.others.items():
            if other.id == (self.own_id if ref.document == SELF else ref.document):
                rest = _keys_by_id(Same(other)).get(ref.item)
                found = None if rest is None else self(f"{prefix}.{rest}")
                return found.key if found is not None and found.ref.item == ref.item else None
        return None


def visible(family: Family, document: Document, sketch: Sketch | None = None) -> dict[str, Named]:
    """Everything that an expression standing in `document` (in `sketch`) may name, nearest first.

    Own parameters are named alone, those of other documents after the document's identifier, sketch dimensions
    after the sketch's; inside a sketch its own dimensions are named alone.
    """
    found: dict[str, Named] = {}

    def add(key: str, document_id: str, item: Valued) -> None:
        if key not in found:
            found[key] = Named(key, ValueRef(document=document_id, item=item.id), dimension_of(item))

    own = family.documents.get(document.id)
    if sketch is not None:
        for constraint in sketch.constraints:
            if constraint.kind in DIMENSIONS and constraint.name:
                add(identifier(constraint.name), SELF, constraint)
    if own is not None:
        for key, item in values_of(own):
            add(key, SELF, item)
    for other in family.documents.values():
        prefix = identifier(other.name)
        for key, item in values_of(other):
            add(f"{prefix}.{key}", SELF if other.id == document.id else other.id, item)
    return found


def offered(family: Family, document: Document, sketch: Sketch | None = None) -> list[str]:
    """Names to offer while an expression is typed: each value once, by the name it has nearest to where it is typed."""
    nearest: dict[tuple[str, str], str] = {}
    for named in visible(family, document, sketch).values():
        nearest.setdefault((named.ref.document, named.ref.item), named.key)
    return list(nearest.values())


def _fixed(family: Family, key: str, lookup: Lookup) -> Named | None:
    """`Sizes.wall at M`, `Light.Shoulder at Folded`."""
    name, _, wanted = key.partition(" at ")
    base = lookup(name) if wanted else None
    if base is None:
        return None
    source = lookup.own if base.ref.document == SELF else family.documents.get(base.ref.document)
    rows: list[Size | Configuration] = [*family.head.sizes, *(source.configurations if source else ())]
    for row in rows:
        if identifier(row.name).casefold() == wanted.casefold():
            return Named(key, replace(base.ref, configuration=row.id), base.dimension)
    others = scopes.alternates(source) if source is not None else ()
    for alternate in others:
        if identifier(alternate.name).casefold() == wanted.casefold():
            return Named(key, replace(base.ref, alternate=alternate.id), base.dimension)
    if others:
        known = ", ".join(r.name for r in (*rows, *others))
        raise UserFault(f"there is no size or alternate “{wanted}”", key, f"they are {known}")
    raise UserFault(f"there is no size “{wanted}”", key, "sizes are " + ", ".join(r.name for r in rows))


def bind(
    family: Family,
    document: Document,
    text: str,
    expected: Kind | None,
    sketch: Sketch | None = None,
    own: tuple[str, ...] = (),
) -> Expression:
    """Turn typed text into a stored expression; `own` names mean plain numbers of the place where it stands.

    Raises:
        UserFault: of syntax, names or dimensions; nothing is stored.
    """
    lookup = Lookup(family, document, sketch)
    keys = [k for k in names_in(parse(text)) if k not in own]
    used = {k: n for k in keys if (n := lookup(k) or _fixed(family, k, lookup)) is not None}
    kinds = {k: n.dimension for k, n in used.items()}
    if len(used) < len(keys):  # all names, to say which one may be meant
        kinds = {k: n.dimension for k, n in visible(family, document, sketch).items()} | kinds
    compile_expression(text, kinds | dict.fromkeys(own, units.NUMBER), expected)
    return Expression(text=text, refs={k: n.ref for k, n in used.items()})


def bind_quantity(
    family: Family, document: Document, text: str, quantity: str, unit: str, sketch: Sketch | None = None
) -> Expression:
    """`bind` for a field of a quantity: a bare number is completed with the field's unit."""
    return bind(family, document, complete(text, quantity, unit), units.QUANTITIES[quantity], sketch)


def bind_choice(family: Family, document: Document, text: str, source_id: str) -> Expression:
    """An expression that names a configuration of a source: `pick(reach > 300 mm, L, M)`.

    Raises:
        UserFault: of syntax or names, or it yields no configuration.
    """
    source = family.documents.get(source_id)
    rows = {identifier(name): row for row, name in scopes.configurations(family, source)} if source else {}
    bound = bind(family, document, text, NameKind(tuple(rows)))
    used = {n.key: rows[n.key] for n in _names(parse(text)) if n.key in rows and n.key not in bound.refs}
    return replace(bound, choices=used)


def bind_one_of(family: Family, document: Document, text: str, options: Iterable[str]) -> Expression:
    """An expression that yields one of some names: `pick(reach > 300 mm, M5, M4)`.

    Raises:
        UserFault: of syntax or names, or it yields none of them.
    """
    return bind(family, document, text, NameKind(tuple(options)))


def shown_text(family: Family, document: Document, expression: Expression, sketch: Sketch | None = None) -> str:
    """The expression with the names its sources have now; a name whose source is gone is kept in ⟨ ⟩."""
    if not expression.refs and not expression.choices:
        return expression.text
    lookup = Lookup(family, document, sketch)
    text = expression.text
    for node in sorted(_names(parse(text)), key=lambda n: -n.at):
        ref = expression.refs.get(node.key)
        if ref is None:
            row = expression.choices.get(node.key)
            if row is not None:
                text = text[: node.at] + identifier(_any_row_name(family, row, node.key)) + text[node.end :]
            continue
        name = lookup.key(ref)
        shown = f"⟨{node.key}⟩" if name is None else name
        fixed = ref.alternate or (ref.configuration if ref.configuration not in (MATCH, PARENT) else "")
        if name is not None and fixed:
            shown += f" at {identifier(row_name(family, ref.document, fixed, document))}"
        text = text[: node.at] + shown + text[node.end :]
    return text


def row_name(family: Family, document_id: str, row: str, own: Document | None = None) -> str:
    """The name of a size, of a row or of an alternate."""
    document = own if document_id == SELF else family.documents.get(document_id)
    entries: list[Size | Configuration | Alternate] = [
        *family.head.sizes,
        *(document.configurations if document else ()),
    ]
    for entry in [*entries, *(scopes.alternates(document) if document is not None else ())]:
        if entry.id == row:
            return entry.name
    return row


def _any_row_name(family: Family, row: str, otherwise: str) -> str:
    """The name of a size, or of a row of any document."""
    entries: list[Size | Configuration] = [
        *family.head.sizes,
        *(r for d in family.documents.values() for r in d.configurations),
    ]
    return next((e.name for e in entries if e.id == row), f"⟨{otherwise}⟩")


def _names(tree: SyntaxNode) -> list[Name]:
    found, stack = [], [tree]
    while stack:
        node = stack.pop()
        if isinstance(node, Name):
            found.append(node)
        stack.extend(getattr(node, "arguments", ()))
    return found

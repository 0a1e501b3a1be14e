"""What typed texts and dimensions of a sketch come to, here or in every size."""

from __future__ import annotations

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.names import bind_quantity
from architectonic.family.records import Family, Parameter, Sketch
from architectonic.family.scopes import Scope, scopes_of
from architectonic.quantities.units import DEFAULT_UNIT
from architectonic.session.open.queries import ask


def everywhere(family: Family, document_id: str) -> list[Scope]:
    """A document in every size."""
    return scopes_of(family, edits.document(family, document_id))


def measured(family: Family, sketch: Sketch, text: str, quantity: str, scopes: list[Scope]) -> list[float]:
    """The values of a text typed in a sketch, in some sizes of its document; mm and rad.

    Raises:
        UserFault: it cannot be read, or has no value in one of them.
    """
    document = edits.document(family, scopes[0].document)
    bound = bind_quantity(family, document, text, quantity, DEFAULT_UNIT[quantity], sketch)
    probe = Parameter(id="probe", name="probe", quantity=quantity, unit=DEFAULT_UNIT[quantity], common=bound)
    family = edits.put(family, edits.replace(document, parameters=(*document.parameters, probe)))
    nodes = [Node("value", at, "probe") for at in scopes]
    found = ask(family, nodes)
    values = [found.value(n) for n in nodes]
    if any(v is None for v in values):
        raise UserFault(f"“{text}” has no value here", sketch.name, f"type a {quantity}")
    return [float(v) for v in values]


def come_to(family: Family, dimension: str, scopes: list[Scope]) -> list[float]:
    """What a dimension comes to in those of some sizes where it has a value."""
    nodes = [Node("value", at, dimension) for at in scopes]
    found = ask(family, nodes)
    return [float(v) for n in nodes if (v := found.value(n)) is not None]

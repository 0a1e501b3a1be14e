"""Moving what joints and rules leave free, or drive: what a drag stores."""

from __future__ import annotations

from architectonic.base.errors import UserFault
from architectonic.describe.assembly.joints import told
from architectonic.describe.assembly.posing import Posed
from architectonic.describe.results import Node
from architectonic.family import edits, scopes
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation


def driven_to(family: Family, at: Scope, bond: str, field: str, value: float) -> Family:
    """The family with a joint driven to a value in the shown alternate.

    Args:
        value: mm or rad.

    Raises:
        UserFault: an expression with names decides it: that is changed where it stands.
    """
    found = edits.assembly(family, at.document)
    record = edits.bond_of(found, bond)
    _, now = scopes.driven(family, at, record, field)
    if now is not None and (now.refs or now.choices):
        raise UserFault(
            f"{record.name} is driven by {edits.bond_text(family, found, at, record, field)[1]}",
            found.name,
            "change that, or type a plain value first",
        )
    return edits.set_bond_value(family, at.document, bond, field, told(field, value), at.alternate)


def let_stand(family: Family, at: Scope, seen: Evaluation | None, bond: str, field: str, value: float) -> Family:
    """Keep where a drag has brought a joint: its value where it is driven, else where everything starts from then on.

    Args:
        seen: an evaluation of what was dragged.
    """
    record = edits.bond_of(edits.assembly(family, at.document), bond)
    if scopes.driven(family, at, record, field)[1] is not None:
        return driven_to(family, at, bond, field, value)
    posed = seen.value(Node("posed", at, "")) if seen is not None else None
    if not isinstance(posed, Posed):
        raise UserFault("nothing is known yet of where it would stand", record.name, "drag it once more")
    return edits.stand_at(family, at.document, posed.stands, at.alternate)

"""Assemblies: parts in place."""

from __future__ import annotations

from collections.abc import Iterable

from architectonic.describe.assembly.balance import plan_balance
from architectonic.describe.assembly.clashes import plan_clashes, plan_clearances
from architectonic.describe.assembly.extents import plan_extents
from architectonic.describe.assembly.joints import plan_joint, plan_within
from architectonic.describe.assembly.plans import plan_assembly, plan_placed, plan_repeats, plan_stands
from architectonic.describe.assembly.posing import plan_mobility, plan_mounted, plan_posed
from architectonic.describe.assembly.slack import plan_slack
from architectonic.describe.documents.kind import DocumentKind
from architectonic.describe.results import Node
from architectonic.family.documents.assembly import Assembly
from architectonic.family.records import Family
from architectonic.family.scopes import Scope


def nodes(family: Family, document: Assembly, at: Scope) -> Iterable[Node]:
    """What bonds come to, where joints are, and all instances together."""
    if document.bonds:
        yield Node("posed", at, "")
        yield from (Node("joint", at, b.id) for b in document.bonds)
        yield from (Node("within", at, b.id) for b in document.bonds if b.limits)
    yield from (Node("repeats", at, i.id) for i in document.instances if i.repeats)
    yield Node("assembly", at, "")


def later(family: Family, document: Assembly, at: Scope) -> Iterable[Node]:
    """What is worked out once the pictures are there."""
    wanted = ["mobility", "extents", "balance", "clashes"]
    wanted += (
        ["slack"] if any(b.play is not None or any(o.play for o in b.own.values()) for b in document.bonds) else []
    )
    return tuple(Node(what, at, "") for what in wanted)


KIND = DocumentKind(
    Assembly,
    views=("Bodies", "Alternates", "Plan", "Sketch", "Range", "Checks"),
    sign=(
        ((2.0, 2.0), (10.5, 2.0), (10.5, 10.5), (2.0, 10.5), (2.0, 2.0)),
        ((6.0, 6.0), (14.0, 6.0), (14.0, 14.0), (6.0, 14.0), (6.0, 6.0)),
    ),
    note="placed parts",
    empty="Nothing is placed yet: place a part with Place… above the canvas.",
    begin="Place a part to begin.",
    nodes=nodes,
    later=later,
    plans={
        "posed": plan_posed,
        "mobility": plan_mobility,
        "mounted": plan_mounted,
        "joint": plan_joint,
        "within": plan_within,
        "placed": plan_placed,
        "stands": plan_stands,
        "repeats": plan_repeats,
        "assembly": plan_assembly,
        "clashes": plan_clashes,
        "clearances": plan_clearances,
        "extents": plan_extents,
        "slack": plan_slack,
        "balance": plan_balance,
    },
)

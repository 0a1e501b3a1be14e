"""The operations on bodies, one entry for each kind."""

from __future__ import annotations

from collections.abc import Callable

from architectonic.describe import edges, extrude, pieces, sweeps, walls
from architectonic.describe.results import Plan
from architectonic.family.records import (
    Bevel,
    Bridge,
    Combine,
    Draft,
    Extrude,
    Fillet,
    Loft,
    Move,
    Revolve,
    Rib,
    RoundOver,
    Shell,
    Split,
    Sweep,
    TakeOut,
    Thicken,
)

OPERATIONS: dict[type, Callable[..., Plan]] = {
    Extrude: extrude.plan,
    Revolve: sweeps.plan_revolve,
    Sweep: sweeps.plan_sweep,
    Loft: sweeps.plan_loft,
    Thicken: sweeps.plan_thicken,
    Rib: sweeps.plan_rib,
    Fillet: edges.plan_fillet,
    RoundOver: edges.plan_round_over,
    Bevel: edges.plan_bevel,
    Shell: walls.plan_shell,
    Draft: walls.plan_draft,
    Split: pieces.plan_split,
    Combine: pieces.plan_combine,
    Bridge: pieces.plan_bridge,
    Move: pieces.plan_move,
    TakeOut: pieces.plan_take_out,
}
"""How each kind is evaluated: view, node, record and the state it is given, to the state after it."""

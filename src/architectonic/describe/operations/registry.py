"""The operations on bodies: one entry for each kind, from which the registries of recipes and makers follow."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from architectonic.describe import recipes
from architectonic.describe.operations import edges, extrude, pieces, sweeps, walls
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


class Kind(NamedTuple):
    """How a kind of operation is evaluated.

    Attributes:
        plan: view, node, record and the state it is given, to the state after it.
        recipe: what is asked of the kernel, whose value lists the bodies with a new shape; "" for nothing.
        given: type of the recipe's input.
        version: of its code; a kind whose results change gets a new one, so that older ones are not taken for its own.
    """

    plan: Callable[..., Plan]
    recipe: str = ""
    given: type = recipes.BodyInput
    version: int = 0


OPERATIONS: dict[type, Kind] = {
    Extrude: Kind(extrude.plan, "extrude", recipes.ExtrudeInput, 4),
    Revolve: Kind(sweeps.plan_revolve, "revolve", recipes.RevolveInput, 3),
    Sweep: Kind(sweeps.plan_sweep, "sweep", recipes.SweepInput, 3),
    Loft: Kind(sweeps.plan_loft, "loft", recipes.LoftInput, 3),
    Thicken: Kind(sweeps.plan_thicken, "thicken", recipes.ThickenInput, 2),
    Rib: Kind(sweeps.plan_rib, "rib", recipes.RibInput, 2),
    Fillet: Kind(edges.plan_fillet, "fillet", recipes.FilletInput, 4),
    RoundOver: Kind(edges.plan_round_over, "round_over", recipes.FacesInput, 2),
    Bevel: Kind(edges.plan_bevel, "bevel", recipes.BevelInput, 2),
    Shell: Kind(walls.plan_shell, "shell", recipes.ShellInput, 2),
    Draft: Kind(walls.plan_draft, "draft", recipes.DraftInput, 2),
    Split: Kind(pieces.plan_split, "split", recipes.SplitInput, 2),
    Combine: Kind(pieces.plan_combine, "combine", recipes.CombineInput, 1),
    Bridge: Kind(pieces.plan_bridge, "bridge", recipes.BridgeInput, 2),
    Move: Kind(pieces.plan_move, "move", recipes.MoveInput, 2),
    TakeOut: Kind(pieces.plan_take_out),
}
CHANGE_BODIES = tuple(k.recipe for k in OPERATIONS.values() if k.recipe)
"""Recipes whose value lists the bodies that have a new shape."""

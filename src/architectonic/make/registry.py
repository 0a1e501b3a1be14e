"""How each kind of recipe is made with the kernel. Only workers import this package."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from architectonic.describe import recipes
from architectonic.describe.operations.registry import OPERATIONS
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.make import gauges, queries
from architectonic.make.operations import edges, extrude, pieces, sweeps, walls


class Maker(NamedTuple):
    """Type of the input, and the function: input and shapes to value and new shapes by body id."""

    input: type
    function: Callable[[Any, list[Labelled]], tuple[Any, dict[str, Labelled]]]


OF_OPERATIONS: dict[str, Callable[[Any, list[Labelled]], tuple[list[str], dict[str, Labelled]]]] = {
    "extrude": extrude.make,
    "revolve": sweeps.revolve,
    "sweep": sweeps.sweep,
    "loft": sweeps.loft,
    "thicken": sweeps.thicken,
    "rib": sweeps.rib,
    "round_over": edges.round_over,
    "fillet": edges.fillet,
    "bevel": edges.bevel,
    "shell": walls.shell,
    "draft": walls.draft,
    "split": pieces.split,
    "combine": pieces.combine,
    "bridge": pieces.bridge,
    "move": pieces.move,
}
"""By the recipe of each kind of operation (describe.operations)."""

MAKERS: dict[str, Maker] = {
    **{k.recipe: Maker(k.given, OF_OPERATIONS[k.recipe]) for k in OPERATIONS.values() if k.recipe},
    "outline": Maker(recipes.OutlineInput, queries.outline),
    "face": Maker(recipes.FaceInput, queries.face),
    "find": Maker(recipes.FindInput, queries.find),
    "section": Maker(recipes.SectionInput, queries.section),
    "gauge": Maker(recipes.GaugeInput, gauges.measured),
    "shared": Maker(recipes.BodyInput, queries.shared),
    "likeness": Maker(recipes.BodyInput, queries.alike),
    "measure": Maker(recipes.BodyInput, queries.measurements),
    "mesh": Maker(recipes.MeshInput, queries.triangles),
    "box": Maker(recipes.PlacedInput, queries.box),
    "step": Maker(recipes.ExportInput, queries.step_file),
}

"""How each kind of recipe is made with the kernel. Only workers import this package."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from architectonic.describe import recipes
from architectonic.kernel.labelled import Labelled
from architectonic.make import edges, extrude, gauges, pieces, queries, sweeps, walls


class Maker(NamedTuple):
    """Type of the input, and the function: input and shapes to value and new shapes by body id."""

    input: type
    function: Callable[[Any, list[Labelled]], tuple[Any, dict[str, Labelled]]]


MAKERS: dict[str, Maker] = {
    "extrude": Maker(recipes.ExtrudeInput, extrude.make),
    "revolve": Maker(recipes.RevolveInput, sweeps.revolve),
    "sweep": Maker(recipes.SweepInput, sweeps.sweep),
    "loft": Maker(recipes.LoftInput, sweeps.loft),
    "thicken": Maker(recipes.ThickenInput, sweeps.thicken),
    "rib": Maker(recipes.RibInput, sweeps.rib),
    "round_over": Maker(recipes.FacesInput, edges.round_over),
    "fillet": Maker(recipes.FilletInput, edges.fillet),
    "bevel": Maker(recipes.BevelInput, edges.bevel),
    "shell": Maker(recipes.ShellInput, walls.shell),
    "draft": Maker(recipes.DraftInput, walls.draft),
    "split": Maker(recipes.SplitInput, pieces.split),
    "combine": Maker(recipes.CombineInput, pieces.combine),
    "bridge": Maker(recipes.BridgeInput, pieces.bridge),
    "move": Maker(recipes.MoveInput, pieces.move),
    "outline": Maker(recipes.OutlineInput, queries.outline),
    "face": Maker(recipes.FaceInput, queries.face),
    "find": Maker(recipes.FindInput, queries.find),
    "section": Maker(recipes.SectionInput, queries.section),
    "gauge": Maker(recipes.GaugeInput, gauges.measured),
    "shared": Maker(recipes.BodyInput, queries.shared),
    "likeness": Maker(recipes.BodyInput, queries.alike),
    "measure": Maker(recipes.BodyInput, queries.measurements),
    "mesh": Maker(recipes.MeshInput, queries.triangles),
    "step": Maker(recipes.ExportInput, queries.step_file),
}

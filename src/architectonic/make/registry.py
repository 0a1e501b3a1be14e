"""How each kind of recipe is made with the kernel. Only workers import this package."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from architectonic.base.kinds import functions
from architectonic.describe import recipes
from architectonic.describe.models.operations import OPERATIONS
from architectonic.describe.operations.bodies.outside import LookInput
from architectonic.describe.operations.curves.curve import CurveInput3D
from architectonic.describe.operations.holes.section import DrilledInput
from architectonic.describe.operations.surfaces.trim import PiecesInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.make import files, gauges, queries
from architectonic.make.operations.bodies.outside import look
from architectonic.make.operations.holes.hole import drilled
from architectonic.make.operations.holes.threads import threaded
from architectonic.make.operations.surfaces.curves import space_curve
from architectonic.make.operations.surfaces.trim import pieces
from architectonic.make.surveys import looked_along, surveyed


class Maker(NamedTuple):
    """Type of the input, and the function: input and shapes to value and new shapes by body id."""

    input: type
    function: Callable[[Any, list[Labelled]], tuple[Any, dict[str, Labelled]]]


_OF_OPERATIONS = functions("make.operations", "make")
"""By the recipe of each kind of operation, which is the name of the module that makes it."""

MAKERS: dict[str, Maker] = {
    **{k.recipe: Maker(k.given, _OF_OPERATIONS[k.recipe]) for k in OPERATIONS.values() if k.recipe},
    "pieces": Maker(PiecesInput, pieces),
    "outline": Maker(recipes.OutlineInput, queries.outline),
    "face": Maker(recipes.FaceInput, queries.face),
    "find": Maker(recipes.FindInput, queries.find),
    "section": Maker(recipes.SectionInput, queries.section),
    "gauge": Maker(recipes.GaugeInput, gauges.measured),
    "apart": Maker(recipes.PlacedInput, queries.apart),
    "clash": Maker(recipes.PlacedInput, queries.clash),
    "shared": Maker(recipes.BodyInput, queries.shared),
    "likeness": Maker(recipes.BodyInput, queries.alike),
    "bored": Maker(recipes.BoredInput, queries.bored),
    "drilled": Maker(DrilledInput, drilled),
    "threaded": Maker(recipes.ThreadedInput, threaded),
    "space_curve": Maker(CurveInput3D, space_curve),
    "seams": Maker(recipes.BodyInput, queries.seams),
    "measure": Maker(recipes.BodyInput, queries.measurements),
    "mesh": Maker(recipes.MeshInput, queries.triangles),
    "stood": Maker(recipes.PlacedInput, queries.stood),
    "box": Maker(recipes.PlacedInput, queries.box),
    "step": Maker(recipes.ExportInput, files.step_file),
    "facets": Maker(recipes.FacetInput, files.facets),
    "flat": Maker(recipes.FlatInput, files.flat),
    "survey": Maker(recipes.SurveyInput, surveyed),
    "fairness": Maker(recipes.BodyInput, looked_along),
    "look": Maker(LookInput, look),
}

"""How each kind of recipe is made with the kernel. Only workers import this package."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from architectonic.describe import recipes
from architectonic.kernel.labelled import Labelled
from architectonic.make import extrude, fillet, queries


class Maker(NamedTuple):
    """Type of the input, and the function: input and shapes to value and new shapes by body id."""

    input: type
    function: Callable[[Any, list[Labelled]], tuple[Any, dict[str, Labelled]]]


MAKERS: dict[str, Maker] = {
    "extrude": Maker(recipes.ExtrudeInput, extrude.make),
    "fillet": Maker(recipes.FilletInput, fillet.make),
    "face": Maker(recipes.FaceInput, queries.face),
    "find": Maker(recipes.FindInput, queries.find),
    "section": Maker(recipes.SectionInput, queries.section),
    "measure": Maker(recipes.BodyInput, queries.measurements),
    "mesh": Maker(recipes.BodyInput, queries.triangles),
    "step": Maker(recipes.ExportInput, queries.step_file),
}

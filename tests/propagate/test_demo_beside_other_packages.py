"""Every solid of the demo family, in every size: facets closed and of the volume that the kernel measures (trimesh 5.2.0),
and the exported STEP file of a part of several bodies measured by another kernel (arris 0.9.1).
"""

import pytest

from architectonic.demo.family import brindle
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.records import Model
from architectonic.family.scopes import Scope
from architectonic.propagate.targets import Look, all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.render.camera import BodyMesh
from architectonic.session.files.export import export

pytestmark = pytest.mark.kernel


def test_facets_of_the_whole_demo(engine):
    trimesh = pytest.importorskip("trimesh")
    family = brindle()
    scopes = [s for s in all_scopes(family) if isinstance(family.documents[s.document], Model)]
    evaluation = evaluate_scopes(engine.evaluator, family, scopes, tuple(Look(s) for s in scopes))
    seen = 0
    for node, outcome in evaluation.outcomes.items():
        if node.what != "mesh" or outcome.value is None:
            continue
        found = BodyMesh.from_result(outcome.value)
        facets = trimesh.Trimesh(found.points.astype(float), found.triangles, process=True)
        measured = evaluation.value(Node("measure", node.at, node.item))
        if not measured["solids"]:  # a surface: its facets have its area, and are open where it is
            assert facets.area == pytest.approx(measured["area_mm2"], rel=0.01) and not facets.is_watertight, node
            continue
        assert facets.is_watertight and facets.is_winding_consistent, node
        assert facets.volume == pytest.approx(measured["volume_mm3"], rel=0.01), node
        seen += 1
    assert seen >= 30


def test_an_exported_part_of_three_bodies(engine, tmp_path):
    arris = pytest.importorskip("arris")
    family = brindle()
    part = edits.find_document(family, "Elbow")
    size = next(s.id for s in family.head.sizes if s.name == "M")
    at = Scope(part.id, size)
    evaluation = evaluate_scopes(engine.evaluator, family, [at])
    file = tmp_path / "elbow.step"
    export(engine, evaluation, at, file)
    ours = sorted(evaluation.value(Node("measure", Scope(part.id, size), b))["volume_mm3"] for b in part.bodies)
    model = arris.Model()
    theirs = sorted(model.mass_properties(s.body).volume for s in model.read_step(file.read_text("utf-8")).solids)
    assert theirs == pytest.approx(ours, rel=1e-6)

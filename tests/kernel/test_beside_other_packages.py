"""Solids beside packages that share no code with the kernel.

trimesh 5.2.0 (MIT) takes our facets: whether they are closed and turned outwards, their Euler number, volume, centre and
inertia. arris 0.9.1 (MIT OR Apache-2.0, a kernel of its own) reads our STEP files and measures the solids exactly.
"""

import numpy as np
import pytest

pytest.importorskip("OCP")

from tests.support.shapes import SOLIDS, bicylinder
from tests.support.swept import box

from architectonic.kernel import step
from architectonic.kernel.measure.bodies import measure
from architectonic.kernel.measure.mesh import mesh
from architectonic.kernel.solids import shells
from architectonic.render.camera import BodyMesh


def hollow():
    return shells.shell(box(), [], 3.0, [], "o2")


def facets(body):
    """Our triangles as trimesh has them; corners of neighbouring faces are the same numbers, so that it joins them."""
    trimesh = pytest.importorskip("trimesh")
    found = BodyMesh.from_result(mesh(body))
    return trimesh.Trimesh(found.points.astype(float), found.triangles, process=True)


@pytest.mark.parametrize(("make", "through"), SOLIDS)
def test_facets_are_closed_and_enclose_what_the_kernel_measures(make, through):
    body = make()
    seen, exact = facets(body), measure(body)
    assert seen.is_watertight and seen.is_winding_consistent
    assert seen.euler_number == 2 - 2 * through
    share = 0.01  # facets of round faces lie within: sin(2 pi / n) n / 2 pi, 1 % below at n = 26 (closed form)
    assert seen.volume == pytest.approx(exact["volume_mm3"], rel=share)
    assert seen.area == pytest.approx(exact["area_mm2"], rel=share)
    size = float(np.ptp(seen.bounds, axis=0).max())
    assert seen.center_mass == pytest.approx(exact["centre_mm"], abs=share * size)
    ixx, iyy, izz, ixy, ixz, iyz = exact["inertia_mm5"]
    wanted = np.array([[ixx, ixy, ixz], [ixy, iyy, iyz], [ixz, iyz, izz]])
    assert np.abs(seen.moment_inertia - wanted).max() <= 2 * share * np.abs(wanted).max()
    low, high = exact["box_mm"][:3], exact["box_mm"][3:]
    assert seen.bounds[0] == pytest.approx(low, abs=share * size) and seen.bounds[1] == pytest.approx(high, abs=share * size)  # fmt: skip


def test_a_hollow_body_has_a_surface_inside_that_is_turned_inwards():
    """Two closed surfaces of Euler number 2 each; 100 x 60 x 40 less 94 x 54 x 34."""
    seen = facets(hollow())
    assert seen.is_watertight and seen.euler_number == 4
    assert sorted(round(float(p.volume)) for p in seen.split(only_watertight=False)) == [-94 * 54 * 34, 240_000]
    assert seen.volume == pytest.approx(67_416, rel=1e-6)


@pytest.mark.parametrize(("make", "_"), [s for s in SOLIDS if s[0] not in (bicylinder,)])
def test_step_files_are_measured_alike_by_another_kernel(make, _, tmp_path):
    arris = pytest.importorskip("arris")
    body = make()
    step.write(tmp_path / "x.step", [step.Product("Body", (step.WrittenSolid("Body", body),))])
    model = arris.Model()
    (solid,) = model.read_step((tmp_path / "x.step").read_text("utf-8")).solids
    found, exact = model.mass_properties(solid.body), measure(body)
    assert solid.ok and found.volume == pytest.approx(exact["volume_mm3"], rel=1e-6)
    assert tuple(found.centroid) == pytest.approx(exact["centre_mm"], abs=1e-4)

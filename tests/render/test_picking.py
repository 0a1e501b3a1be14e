"""Picking against a brute-force ray in space, and the camera against its own inverse."""

import numpy as np
import pytest

from architectonic.render.camera import VIEWS, BodyMesh, Camera, frame
from architectonic.render.palette import rgb
from architectonic.render.picking import Picker
from architectonic.render.scene import Scene


def ball(centre, radius, n=14, name="ball"):
    """A faceted sphere: each facet pair is a face of its own."""
    u, v = np.meshgrid(np.linspace(0, 2 * np.pi, n), np.linspace(0.05, np.pi - 0.05, n))
    points = (
        np.stack([np.cos(u) * np.sin(v), np.sin(u) * np.sin(v), np.cos(v)], axis=-1).reshape(-1, 3) * radius + centre
    )
    triangles, face = [], []
    for i in range(n - 1):
        for j in range(n - 1):
            a = i * n + j
            triangles += [(a, a + n, a + 1), (a + 1, a + n, a + n + 1)]
            face += [i * (n - 1) + j] * 2
    faces = [f"{name}{k}" for k in range((n - 1) ** 2)]
    empty = np.zeros((0, 3), np.float32)
    return BodyMesh(points.astype(np.float32), np.array(triangles, np.int32), np.array(face, np.int32), faces,
                    [None] * len(faces), empty, np.zeros(1, np.int32), [])  # fmt: skip


def first_hit(meshes, origin, direction):
    """Moeller & Trumbore, Journal of Graphics Tools 2, 1997: the nearest face along a ray."""
    best, found = np.inf, None
    for mesh in meshes:
        t = mesh.points[mesh.triangles].astype(float)
        e1, e2 = t[:, 1] - t[:, 0], t[:, 2] - t[:, 0]
        p = np.cross(direction, e2)
        det = (e1 * p).sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            s = origin - t[:, 0]
            u = (s * p).sum(axis=1) / det
            q = np.cross(s, e1)
            v = (q * direction).sum(axis=1) / det
            d = (e2 * q).sum(axis=1) / det
            inside = (np.abs(det) > 1e-12) & (u >= 0) & (v >= 0) & (u + v <= 1)
        for k in np.flatnonzero(inside):
            if d[k] < best:
                best, found = d[k], mesh.faces[mesh.face[k]]
    return found


@pytest.mark.parametrize("view", sorted(VIEWS))
def test_a_thousand_rays_find_the_same_first_face(view):
    direction, up = VIEWS[view]
    meshes = [ball(np.array([0, 0, 0]), 30, name="a"), ball(np.array([25, 10, 12]), 18, name="b")]
    camera = frame(Camera(np.array(direction), np.array(up)), [m.points for m in meshes], 1.25)
    picker = Picker([("one", meshes[0]), ("two", meshes[1])])
    draw = np.random.default_rng(5)
    agree = 0
    for x, y in draw.uniform((0, 0), (500, 400), (250, 2)):
        hits = picker.at(camera, x, y, 500, 400)
        expected = first_hit(meshes, *camera.ray(x, y, 500, 400))
        assert (hits[0].label if hits else None) == expected
        assert [h.depth for h in hits] == sorted(h.depth for h in hits)
        agree += 1
    assert agree == 250


def test_projecting_and_casting_back_meet():
    camera = Camera(np.array([-0.6, 1.0, -0.5]), np.array([0.0, 0.0, 1.0]), np.array([5.0, -3.0, 8.0]), 60.0)
    draw = np.random.default_rng(3)
    for point in draw.uniform(-40, 40, (50, 3)):
        x, y, _ = camera.project(point, 640, 480)[0]
        origin, direction = camera.ray(x, y, 640, 480)
        away = np.linalg.norm(np.cross(point - origin, direction))
        assert away < 1e-6 and np.linalg.norm(direction) == pytest.approx(1)


def test_a_plate_behind_plates_is_reached_in_order():
    """Six stacked plates seen from above: six faces in depth order."""

    def plate(z):
        corners = np.array([[-10, -10, z], [10, -10, z], [10, 10, z], [-10, 10, z]], np.float32)
        return BodyMesh(corners, np.array([[0, 1, 2], [0, 2, 3]], np.int32), np.zeros(2, np.int32), [f"z{z}"], [None],
                        np.zeros((0, 3), np.float32), np.zeros(1, np.int32), [])  # fmt: skip

    picker = Picker([(str(z), plate(z)) for z in (3, 0, 5, 1, 4, 2)])
    direction, up = VIEWS["top"]
    hits = picker.at(Camera(np.array(direction), np.array(up), np.zeros(3), 20.0), 205.0, 203.0, 400, 400)
    assert [h.label for h in hits] == ["z5", "z4", "z3", "z2", "z1", "z0"]


def test_a_picture_shows_the_body_in_its_colour_on_paper():
    scene = Scene("#F7F5F0")
    mesh = ball(np.array([0, 0, 0]), 30)
    scene.set_bodies([(mesh, "#A0B39C", 1.0)])
    direction, up = VIEWS["front"]
    camera = frame(Camera(np.array(direction), np.array(up)), [mesh.points], 1.0)
    picture = scene.picture(camera, 200, 200)
    scene.close()
    assert picture.shape == (200, 200, 3)
    assert tuple(picture[3, 3]) == tuple(round(c * 255) for c in rgb("#F7F5F0"))
    r, g, b = (int(c) for c in picture[100, 100])
    assert g > r and g > b  # sage, whatever the light
    body = (np.abs(picture.astype(int) - picture[3, 3].astype(int)).sum(axis=2) > 30).mean()
    assert body == pytest.approx(np.pi / 4 / 1.12**2, abs=0.03)  # a disc that fills the frame less its margin


def test_an_edge_without_points_has_no_ends():
    """As the kernel draws what is shorter than it looks at."""
    lines = np.array([[0, 0, 0], [1, 0, 0]], np.float32)
    mesh = BodyMesh(
        lines,
        np.zeros((0, 3), np.int32),
        np.zeros(0, np.int32),
        [],
        [],
        lines,
        np.array([0, 2, 2], np.int32),
        ["a", "b"],
    )
    assert mesh.corners == {}

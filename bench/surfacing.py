"""Trims, joins and closings while a master's values go from half to twice: is the piece that was kept the piece that is kept?

Random profiles turned to envelopes, cut by random sheets of one to three faces. Choices are made at the first values; at others
each piece is looked up by what bounds it and held against where it must lie (above or below the sheets, inside or outside the
envelope, by points of it and the profile's own equation). What was reported is counted apart from what was silently wrong.
"""

from __future__ import annotations

import math
import random
import time
from collections import Counter

from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, point_on
from architectonic.describe.operations.surfaces.pieces import PieceSeen, decided
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import KernelFrame, Side
from architectonic.kernel.shapes.verdict import KernelRefusal, volume
from architectonic.kernel.surfaces import joining, making, trimming, walls
from architectonic.kernel.surfaces.sheets import area

FRONT = KernelFrame((0, 0, 0), (1, 0, 0), (0, -1, 0))
Z = ((0.0, 0.0, 0.0), (0.0, 0.0, 1.0))


class Values:
    """What a master decides: radii and heights of the profile, heights of the sheet's corners."""

    def __init__(self, draw: random.Random, corners: int, steps: int) -> None:
        self.radii = [
            draw.choice((0.0, 5.0)),
            *sorted(draw.uniform(15, 60) for _ in range(steps)),
        ]  # closed, or open above
        self.heights = [draw.uniform(75, 95)]
        for _ in range(steps):
            self.heights.append(self.heights[-1] * draw.uniform(0.35, 0.8))
        self.heights[-1] = 0.0
        self.sheet = [draw.uniform(0.25, 0.75) for _ in range(corners + 1)]

    def scaled(self, draw: random.Random) -> Values:
        """Every value by a factor of its own, from a half to twice; what must increase still does."""
        made = Values.__new__(Values)
        steps = [b - a for a, b in zip(self.radii, self.radii[1:], strict=False)]
        made.radii = [self.radii[0]]
        for s in steps:
            made.radii.append(made.radii[-1] + s * 2 ** draw.uniform(-1, 1))
        falls = [a - b for a, b in zip(self.heights, self.heights[1:], strict=False)]
        made.heights = [0.0]
        for f in reversed(falls):
            made.heights.insert(0, made.heights[0] + f * 2 ** draw.uniform(-1, 1))
        made.sheet = [min(0.95, max(0.05, c * 2 ** draw.uniform(-0.6, 0.6))) for c in self.sheet]
        return made


def _surfaces(v: Values):
    """The envelope, and the sheet through it; the height of the sheet over x."""
    envelope = tuple(
        (FRONT, Side(f"p{k}", (v.radii[k], v.heights[k]), (v.radii[k + 1], v.heights[k + 1])))
        for k in range(len(v.radii) - 1)
    )
    wide, top = 1.6 * v.radii[-1], v.heights[0]
    xs = [-wide + 2 * wide * k / (len(v.sheet) - 1) for k in range(len(v.sheet))]
    zs = [c * top for c in v.sheet]
    sheet = tuple((FRONT, Side(f"s{k}", (xs[k], zs[k]), (xs[k + 1], zs[k + 1]))) for k in range(len(xs) - 1))

    def height(x: float) -> float:
        k = min(max(int((x + wide) / (2 * wide) * (len(xs) - 1)), 0), len(xs) - 2)
        return zs[k] + (x - xs[k]) / (xs[k + 1] - xs[k]) * (zs[k + 1] - zs[k])

    def reach(z: float) -> float:
        for k in range(len(v.radii) - 1):
            if v.heights[k + 1] <= z <= v.heights[k]:
                share = (v.heights[k] - z) / (v.heights[k] - v.heights[k + 1])
                return v.radii[k] + share * (v.radii[k + 1] - v.radii[k])
        return v.radii[0] if z > v.heights[0] else math.inf

    made = making.revolved(envelope, *Z, 0.0, math.tau, "o1")
    cut = making.extruded(sheet, (0.0, 1.0, 0.0), -wide, wide, "o2")
    return made, cut, height, reach


def _side(piece: trimming.TrimmedPiece, height, reach) -> str:
    """Where a piece lies by its points: over or under the sheet, in or out of the envelope."""
    from architectonic.kernel.measure.mesh import facets

    (points, triangles, _), _ = facets(piece.shape.shape, piece.shape.face_list, 0.3)
    votes: Counter[str] = Counter()
    for t in triangles[:: max(1, len(triangles) // 60)]:
        x, y, z = (float(c) for c in points[t].mean(axis=0))
        if piece.of == 0:
            votes["over" if z > height(x) else "under"] += 1
        else:
            votes["in" if math.hypot(x, y) < reach(z) else "out"] += 1
    return votes.most_common(1)[0][0]


def _seen(p: trimming.TrimmedPiece) -> PieceSeen:
    return PieceSeen(of=str(p.of), sides=p.sides, bounds=p.bounds, rims=p.rims, faces=p.faces, area=p.area, at=p.at)


def _one(draw: random.Random, counts: Counter[str], variations: int) -> None:
    first = Values(draw, draw.randrange(1, 4), draw.randrange(1, 4))
    made, cut, height, reach = _surfaces(first)
    try:
        found = trimming.pieces([made, cut], [])
    except KernelRefusal:
        counts["refused"] += 1
        return
    if not any(p.bounds for p in found):
        return
    keep = {"over", "in"}
    choices = [_seen(p).chosen(_side(p, height, reach) in keep) for p in found]
    for _ in range(variations):
        made, cut, height, reach = _surfaces(first.scaled(draw))
        try:
            now = trimming.pieces([made, cut], [])
        except KernelRefusal:
            counts["refused"] += 1
            continue
        taken, _ = decided([_seen(p) for p in now], choices)
        for p, t in zip(now, taken, strict=True):
            if t is None:
                counts["reported"] += 1
            else:
                counts["right" if t.keep == (_side(p, height, reach) in keep) else "wrong"] += 1
        if None in taken:
            continue
        _close(now, taken, made, cut, counts)


def _close(now, taken, made, cut, counts: Counter[str]) -> None:
    """Join what stays and close it: a solid whose area is that of its pieces and that is not larger than its box allows."""
    stay = [(p.of, p.shape) for p, t in zip(now, taken, strict=True) if t.keep]
    try:
        parts = trimming.kept(stay, [made, cut])
        if made.free_edges and len(made.free_edges) > 1:  # open above: no tip in the way
            _wall(parts[0], counts)
        joined = joining.joined(list(parts.values()), 0.01)
        solid = joining.closed(joined, 0.01)
    except KernelRefusal:
        counts["not closed, said so"] += 1
        return
    whole = sum(p.area for p, t in zip(now, taken, strict=True) if t.keep)
    good = abs(area(solid.shape) - whole) <= 1e-6 * whole and volume(solid.shape) > 0
    counts["closed" if good else "closed wrongly"] += 1
    counts["edges named"] += len(solid.edges)


def _wall(part: Labelled, counts: Counter[str]) -> None:
    """A wall of 1 mm on either side of what stays: about as much as area times thickness, or refused."""
    about = area(part.shape)
    for by in (1.0, -1.0):
        try:
            wall = walls.thickened(part, by, "o9")
        except KernelRefusal:
            counts["wall refused"] += 1
            continue
        counts["wall" if 0.5 * about < volume(wall.shape) < 2 * about else "wall wrong"] += 1


def trims(number: int = 120, variations: int = 8, seed: int = 1) -> None:
    """Print how many choices were right, reported and wrong."""
    draw, counts, start = random.Random(seed), Counter[str](), time.perf_counter()
    for _ in range(number):
        _one(draw, counts, variations)
    looked = counts["right"] + counts["reported"] + counts["wrong"]
    print(f"{looked} choices over {number} masters in {time.perf_counter() - start:.0f} s")
    print(f"right {counts['right'] / looked:.2%}, reported {counts['reported']}, silently wrong {counts['wrong']}")
    print(dict(sorted(counts.items())))


def _held(drawing, arc: str, radius: str) -> None:
    """A quarter about the origin, of a radius."""
    drawing.constrain("coincident", point_on(arc, "centre"), ORIGIN)
    drawing.constrain("on_curve", point_on(arc, "start"), X_AXIS)
    drawing.constrain("on_curve", point_on(arc, "end"), Y_AXIS)
    drawing.constrain("radius", arc, value=radius)


def masters() -> None:
    """A master with 30 surfaces and 8 parts built from it: one change beside the kernel's own time, and the first picture of two
    parts while the master is pulled."""
    import tempfile
    from pathlib import Path

    import architectonic as a
    from architectonic.family import edits
    from architectonic.propagate.targets import Look, all_scopes
    from architectonic.propagate.whole import evaluate_scopes
    from architectonic.session.open.engine import Engine

    with a.new("Styled", sizes=("M",), seed=5) as styled:
        form = styled.master("Form")
        form.parameter("size", "50 mm")
        names = []
        for k in range(10):
            profile = form.sketch(f"Profile {k}", on="front")
            arc = profile.arc((0, 0), (50 + k, 0), (0, 50 + k))
            profile.draw("held", lambda d, arc=arc.id, k=k: _held(d, arc, f"size + {k} mm"))
            line = form.sketch(f"Line {k}", on="front")
            line.line((-90, 20 + k), (90, 25 + k))
            low = form.sketch(f"Low {k}", on="front")
            low.line((-90, 5 + k), (90, 6 + k))
            form.revolve_surface(curves=profile.curves[0], axis="z", name=f"Envelope {k}")
            for name, sketch in ((f"Parting {k}", line), (f"Rim {k}", low)):
                form.extrude_surface(curves=sketch.curves[0], length="180 mm", symmetric=True, name=name)
            names.append((f"Envelope {k}", f"Parting {k}", f"Rim {k}"))
        for k in range(8):
            part = styled.part(f"Part {k}")
            envelope, parting, _ = part.bring_in(form, *names[k])
            found = {b.name: b for b in (envelope, parting)}
            part.trim(
                bodies=list(found.values()),
                pieces={
                    f"Envelope {k} before Parting {k}": True,
                    f"Envelope {k} behind Parting {k}": False,
                    f"Parting {k} before Envelope {k}": False,
                    f"Parting {k} behind Envelope {k}": True,
                },
            )
            part.join(bodies=[f"Envelope {k}", f"Parting {k}"], close=True)
        family = styled.family
    size = next(p for p in edits.find_document(family, "Form").parameters if p.name == "size")
    key = edits.find_document(family, "Form").id
    with tempfile.TemporaryDirectory() as folder:
        engine, window = Engine.start(Path(folder) / "one", 1), Engine.start(Path(folder) / "window")
        for one in (engine, window):
            evaluate_scopes(one.evaluator, family, all_scopes(family))
        ratios, pictures = [], []
        two = [s for s in all_scopes(family) if family.documents[s.document].name in ("Part 0", "Part 1")]
        for k in range(5):
            changed = edits.set_value(family, key, size.id, f"{51 + k / 10} mm")
            start = time.perf_counter()
            evaluate_scopes(window.evaluator, changed, two, tuple(Look(s) for s in two), measured=False, quick=True)
            pictures.append(time.perf_counter() - start)
            other = edits.set_value(family, key, size.id, f"{52 + k / 10} mm")
            work = evaluate_scopes(engine.evaluator, other, all_scopes(other)).work
            ratios.append(work.total_seconds / work.kernel_seconds)
        found = evaluate_scopes(engine.evaluator, other, all_scopes(other))
        failing = sum(1 for o in found.outcomes.values() if o.problem is not None)
        pictures.sort()
        print(
            f"30 surfaces, 8 parts: one change {sorted(ratios)[2]:.2f} of the kernel's own time (goal 1.15); {failing} fail"
        )
        print(f"the master pulled, two parts in sight: first picture {1000 * pictures[2]:.0f} ms (goal 200)")
        engine.close()
        window.close()

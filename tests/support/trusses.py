"""Sketches of any size with known solutions, for tests and benchmarks: plates and slots, trusses, mechanisms."""

import math
import random

from architectonic.sketch.solving.entities import Constraint, Curve


class Parts:
    """Rectangles, triangles, rounded corners and slots, each placed from the one before: held, much of it level."""

    def __init__(self, constraints, seed=0):
        self.draw = random.Random(seed)
        self.curves, self.constraints = [], []
        self.corner = "origin"
        self.x = self.y = 0.0
        modules = [self.plate, self.triangle, self.rounded, self.slot]
        while len(self.constraints) < constraints:
            self.draw.choice(modules)(f"m{len(self.curves)}")

    def line(self, key, a, b):
        self.curves.append(Curve(key, "line", (*a, *b)))

    def say(self, kind, *of, value=None, branch=1):
        self.constraints.append(Constraint(f"{kind}{len(self.constraints)}", kind, of, value, branch))

    def place(self, point, at):
        """A new corner, 70 mm to the right of the last and up or down."""
        dx, dy = at[0] - self.x, at[1] - self.y
        self.say("horizontal_distance", self.corner, point, value=abs(dx), branch=1 if dx >= 0 else -1)
        self.say("vertical_distance", self.corner, point, value=abs(dy), branch=1 if dy >= 0 else -1)
        self.corner, self.x, self.y = point, *at

    def next(self):
        return self.x + 70.0, self.draw.choice((-40.0, 10.0, 50.0))

    def plate(self, k):
        (x, y), w, h = self.next(), self.draw.uniform(20, 50), self.draw.uniform(10, 40)
        p = [(x, y), (x + w, y), (x + w, y + h), (x, y + h)]
        for i in range(4):
            self.line(f"{k}{i}", p[i], p[(i + 1) % 4])
        for i in range(4):
            self.say("coincident", f"{k}{i}.end", f"{k}{(i + 1) % 4}.start")
            self.say("vertical" if i % 2 else "horizontal", f"{k}{i}")
        self.say("distance", f"{k}0", value=w)
        self.say("distance", f"{k}1", value=h)
        self.place(f"{k}0.start", (x, y))

    def triangle(self, k):
        (x, y), w = self.next(), self.draw.uniform(20, 50)
        top = (x + self.draw.uniform(5, w - 5), y + self.draw.uniform(15, 40))
        p = [(x, y), (x + w, y), top]
        for i in range(3):
            self.line(f"{k}{i}", p[i], p[(i + 1) % 3])
        for i in range(3):
            self.say("coincident", f"{k}{i}.end", f"{k}{(i + 1) % 3}.start")
            self.say("distance", f"{k}{i}", value=math.dist(p[i], p[(i + 1) % 3]))
        self.say("horizontal", f"{k}0")
        self.place(f"{k}0.start", (x, y))

    def rounded(self, k):
        """Two lines at an angle with a tangent arc between: fillet of r in a corner of given angle."""
        (x, y), r, turn = self.next(), self.draw.uniform(3, 6), self.draw.uniform(1.0, 2.0)
        reach = r / math.tan(turn / 2)
        u = (math.cos(turn), math.sin(turn))
        a, b = (x + 40, y), (x + reach, y)
        c, d = (x + reach * u[0], y + reach * u[1]), (x + 40 * u[0], y + 40 * u[1])
        centre = (b[0], b[1] + r)
        self.line(f"{k}0", a, b)
        self.line(f"{k}1", c, d)
        self.curves.append(Curve(f"{k}a", "arc", (*centre, *c, *b, r)))
        self.say("coincident", f"{k}0.end", f"{k}a.end")
        self.say("coincident", f"{k}1.start", f"{k}a.start")
        self.say("tangent", f"{k}0", f"{k}a")
        self.say("tangent", f"{k}1", f"{k}a")
        self.say("radius", f"{k}a", value=r)
        self.say("horizontal", f"{k}0")
        self.say("distance", f"{k}0", value=40 - reach)
        self.say("distance", f"{k}1", value=40 - reach)
        self.say("angle", f"{k}0", f"{k}1", value=math.pi - turn, branch=-1)
        self.place(f"{k}0.start", a)

    def slot(self, k):
        (x, y), w, r = self.next(), self.draw.uniform(15, 40), self.draw.uniform(4, 8)
        self.line(f"{k}0", (x, y - r), (x + w, y - r))
        self.line(f"{k}1", (x + w, y + r), (x, y + r))
        self.curves.append(Curve(f"{k}a", "arc", (x + w, y, x + w, y - r, x + w, y + r, r)))
        self.curves.append(Curve(f"{k}b", "arc", (x, y, x, y + r, x, y - r, r)))
        for a, b in (("0.end", "a.start"), ("a.end", "1.start"), ("1.end", "b.start"), ("b.end", "0.start")):
            self.say("coincident", f"{k}{a}", f"{k}{b}")
        for a, b in (("0", "a"), ("1", "a"), ("1", "b"), ("0", "b")):
            self.say("tangent", f"{k}{a}", f"{k}{b}")
        self.say("equal", f"{k}a", f"{k}b")
        self.say("radius", f"{k}a", value=r)
        self.say("horizontal", f"{k}0")
        self.say("distance", f"{k}0", value=w)
        self.place(f"{k}b.centre", (x, y))


def parts(constraints, seed=0):
    """Curves and constraints of about so many constraints, drawn where they stand."""
    made = Parts(constraints, seed)
    return made.curves, made.constraints


def truss(rows, seed=0, grounded=True):
    """A strip of triangles by distances alone: about so many rows; the worst case for branches."""
    draw = random.Random(seed)
    n = rows // 2 + 2
    at = [(30.0 * k + draw.uniform(-3, 3), 26.0 * (k % 2) + draw.uniform(-3, 3)) for k in range(n)]
    curves = [Curve(f"p{k}", "point", p) for k, p in enumerate(at)]
    constraints = [
        Constraint(f"d{k}-{back}", "distance", (f"p{k - back}", f"p{k}"), math.dist(at[k - back], at[k]))
        for k in range(1, n)
        for back in (1, 2)
        if k >= back and (k > 1 or not grounded)
    ]
    constraints.append(Constraint("f0", "fix", ("p0",)))
    if grounded:
        constraints.append(Constraint("f1", "fix", ("p1",)))
    return curves, constraints


def hinged(rows, seed=0):
    """The truss with every fourth long bar left out: a mechanism."""
    curves, constraints = truss(rows, seed)
    long = [c for c in constraints if c.id.endswith("-2")]
    gone = {c.id for c in long[3::4]}
    return curves, [c for c in constraints if c.id not in gone]


def noisy(curves, size, seed=1):
    """Drawn a little off."""
    draw = random.Random(seed)
    return [Curve(c.id, c.kind, tuple(v + draw.uniform(-size, size) for v in c.values)) for c in curves]


def orientations(curves, values):
    """Sign of every triangle of a strip of points."""
    p = [values[c.id] for c in curves]
    return [
        (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) > 0
        for a, b, c in zip(p, p[1:], p[2:], strict=False)
    ]

"""Where bodies of a tree come to stand: each is taken along by the one before it, then brought to what their bond says.

A chain without loops needs no solving: its joints are frames one after the other (Denavit and Hartenberg, 1955). A joint that
nothing drives keeps the value that it has at the start, so that what hangs on it follows as one piece. What comes of it is only
a start for the equations, which have the last word.
"""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Sequence

import numpy as np

from architectonic.assembly.entities import GROUND, KINDS, Bond, RigidBody
from architectonic.assembly.equations import Array, cross, frame_of, in_space
from architectonic.base.rigid import IDENTITY


def carried(bodies: Sequence[RigidBody], bonds: Sequence[Bond]) -> list[RigidBody] | None:
    """The bodies where the tree takes them; None where bonds close loops or follow each other, or nothing stays."""
    start = {b.id: np.array(b.stands, float).reshape(4, 4) for b in bodies}
    start[GROUND] = np.array(IDENTITY).reshape(4, 4)
    there = {k: start[k] for k in (GROUND, *(b.id for b in bodies if b.fixed))}
    if len(bonds) != sum(not b.fixed for b in bodies) or any(b.coupled for b in bonds):
        return None
    at: dict[str, list[Bond]] = {}
    for bond in bonds:
        for place in (bond.a, bond.b):
            at.setdefault(place.body, []).append(bond)
    waiting = deque(k for k in there if k in at)
    while waiting:
        parent = waiting.popleft()
        for bond in at[parent]:
            child = bond.b if bond.a.body == parent else bond.a
            if child.body in there:
                continue
            moved = there[parent] @ _back(start[parent]) @ start[child.body]
            there[child.body] = _brought(bond, there[parent], moved, child is bond.b)
            waiting.append(child.body)
    if len(there) != len(start):
        return None
    return [b if b.fixed else b._replace(stands=tuple(there[b.id].reshape(-1).tolist())) for b in bodies]


def _back(stands: Array) -> Array:
    """What takes a placement back."""
    found = np.eye(4)
    found[:3, :3] = stands[:3, :3].T
    found[:3, 3] = -found[:3, :3] @ stands[:3, 3]
    return found


def _brought(bond: Bond, parent: Array, child: Array, forward: bool) -> Array:
    """Where the child stands once the bond holds.

    Args:
        forward: the child is the bond's b, else its a.
    """
    forms = KINDS[bond.kind].forms
    held, moving = (bond.a, bond.b) if forward else (bond.b, bond.a)
    p, n, s = in_space(held, parent)
    q, m, u = in_space(moving, child)
    if "leaning" in forms or "screw" in forms:
        return child  # left to the equations
    axis, side = m, u
    if "parallel" in forms:
        axis = bond.sense * n
        about = n if forward else axis  # the axis of a
        turn = bond.turn if bond.turn is not None else bond.angle if "turn" in forms else None
        if turn is not None:
            side = _turned(about, turn if forward else -turn, s)
        else:
            flat = u - (u @ axis) * axis
            size = math.sqrt(float(flat @ flat))
            side = flat / size if size > 1e-9 else s
    about = n if forward else axis
    off = q - p if forward else p - q  # from a to b
    far = float(off @ about)
    across = off - far * about
    if "meet" in forms:
        far, across = bond.offset, np.zeros(3)
    elif "beside" in forms:
        far, across = far if bond.slide is None else bond.slide, np.zeros(3)
    elif "ahead" in forms:
        far = bond.offset
    spot = far * about + across
    point = p + spot if forward else p - spot
    local, wanted = np.array(frame_of(moving)), np.array([side, cross(axis, side), axis])
    found = np.eye(4)
    found[:3, :3] = wanted.T @ local
    found[:3, 3] = point - found[:3, :3] @ np.array(moving.point, float)
    return found


def _turned(axis: Array, angle: float, direction: Array) -> Array:
    """About a unit axis (Rodrigues)."""
    c, s = math.cos(angle), math.sin(angle)
    found: Array = c * direction + s * cross(axis, direction) + (1 - c) * float(axis @ direction) * axis
    return found

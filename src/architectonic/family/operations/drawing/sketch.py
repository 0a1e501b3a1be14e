"""Sketches."""

from __future__ import annotations

from typing import Literal

from architectonic.family.drawn import Constraint, Curve
from architectonic.family.operations.base import Operation
from architectonic.family.references import Reference


class Sketch(Operation, tag="sketch", tag_field="kind", frozen=True, kw_only=True):
    """Curves on a plane.

    Attributes:
        plane: a standard plane, a datum, a planar face or a socket holding one.
        along: which document axis gives the sketch's x, stored as a choice when made.
    """

    plane: Reference
    along: Literal["x", "y"] = "x"
    curves: dict[str, Curve] = {}
    constraints: tuple[Constraint, ...] = ()

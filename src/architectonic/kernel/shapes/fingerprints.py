"""Faces of bodies that have no history, called after what they look like.

A face that is the same in a later state of the file has the same name there; one that has changed has another one, so that
nothing is mistaken for it.
"""

from __future__ import annotations

import hashlib
from typing import Any

from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps

from architectonic.kernel.shapes.labelled import Labelled, named
from architectonic.kernel.shapes.topology import FACE, subshapes
from architectonic.kernel.shapes.witness import face_kind

PLACES = 3
"""Decimals to which places and sizes are told apart, mm and mm2."""


def of(face: Any) -> str:
    """What a face looks like: its kind, where its middle is, and how large it is."""
    props = GProp_GProps()
    BRepGProp.SurfaceProperties_s(face, props, 1e-6)
    c = props.CentreOfMass()
    figures = (c.X(), c.Y(), c.Z(), props.Mass())
    told = ",".join(f"{round(v, PLACES) + 0.0:.{PLACES}f}" for v in figures)
    return hashlib.blake2b(f"{face_kind(face)},{told}".encode(), digest_size=6).hexdigest()


def labelled(shape: Any, operation: str) -> Labelled:
    """A shape whose faces are called after what they look like: `<operation>:face:<fingerprint>`."""
    return named(shape, {f: [f"{operation}:face:{of(f)}"] for f in subshapes(shape, FACE)})

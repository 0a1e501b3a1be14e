"""Places of joints and rules on what fills an instance instead: found by what they looked like, where names do not tell."""

from __future__ import annotations

import math

import numpy as np

from architectonic.base import tolerance
from architectonic.base.labels import kind_of
from architectonic.describe.results import ModelState, Node
from architectonic.family import edits, scopes
from architectonic.family.records import STANDARD, Assembly, Family, Mounting, Reference, Witness
from architectonic.family.scopes import Scope
from architectonic.render.camera import BodyMesh
from architectonic.session.open.queries import ask
from architectonic.session.picking import picked

SAME_WAY = 0.95
"""Cosine of the angle between the normals of two flat faces that may be the same place."""
CLEARLY = 1.5
"""So many times as far must the next best be, for the best to be meant."""


def places_found(family: Family, assembly_id: str, instance: str) -> Family:
    """An assembly in which joints and rules have places on all that fills an instance, as far as they can be told.

    Names and copies come first (edits.set_fill). What is left is looked for by its kind, its direction, and where it lies and
    how large it is in its document; where two come near, none is taken, and the joint says that it has no place.
    """
    found = edits.document(family, assembly_id)
    if not isinstance(found, Assembly):
        return family
    fillers = [f.document for f in edits.instance_of(found, instance).every_fill if f.document in family.documents]

    def end(mount: Mounting) -> Mounting:
        if mount.instance != instance or mount.within or mount.place.item in STANDARD or mount.place.witness is None:
            return mount
        missing = [k for k in dict.fromkeys(fillers) if k != mount.place.of and k not in mount.others]
        more = {k: place for k in missing if (place := _nearest(family, k, mount.place)) is not None}
        return edits.replace(mount, others={**mount.others, **more}) if more else mount

    changed = tuple(edits.replace(b, a=end(b.a), b=end(b.b)) for b in found.bonds)
    return family if changed == found.bonds else edits.put(family, edits.replace(found, bonds=changed))


def _nearest(family: Family, filler: str, place: Reference) -> Reference | None:
    """The face, edge or vertex of another part that a place is there, None when none is clearly it."""
    if not place.label or place.witness is None:
        return None
    at = scopes.scope(family, filler, "")
    kind = kind_of(place.label)
    ranked = sorted(_alike(family, at, kind, place.witness), key=lambda c: c[0])
    if not ranked or (len(ranked) > 1 and ranked[1][0] < CLEARLY * ranked[0][0] + tolerance.FEATURE):
        return None
    _, body, label, seen = ranked[0]
    return edits.replace(place, of=filler, item=body, label=label, witness=seen)


def _alike(family: Family, at: Scope, kind: str, was: Witness) -> list[tuple[float, str, str, Witness]]:
    """Everything of the same kind, with how far it is from what it was, mm."""
    state = ask(family, [Node("finished", at, "")]).value(Node("finished", at, ""))
    bodies = [b.id for b in state.bodies] if isinstance(state, ModelState) else []
    seen = ask(family, [Node("mesh", at, b) for b in bodies])
    found = []
    for body in bodies:
        made = seen.value(Node("mesh", at, body))
        mesh = BodyMesh.from_result(made) if made else None
        labels = (
            {"face": mesh.faces, "edge": mesh.edges, "vertex": list(mesh.corners)}[kind] if mesh is not None else []
        )
        for label in dict.fromkeys(labels):
            now = picked.witness(mesh, kind, label) if mesh is not None else None
            if now is not None and now.kind == was.kind and _faces_alike(was, now):
                found.append((_far(was, now), body, label, now))
    return found


def _faces_alike(was: Witness, now: Witness) -> bool:
    if not was.normal or not now.normal:
        return True
    return float(np.dot(was.normal, now.normal)) > SAME_WAY


def _far(was: Witness, now: Witness) -> float:
    """In place and in size, an area as the side of a square, mm."""
    away = math.dist(was.at, now.at) if was.at and now.at else 0.0
    if was.size is None or now.size is None:
        return away
    share = 1.0 if was.convex else 0.5  # only edges are convex or not: the size of a face is an area
    return away + abs(float(was.size**share) - float(now.size**share))

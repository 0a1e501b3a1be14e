"""The bodies of a row as pictures show them, asked for beside the evaluation."""

from __future__ import annotations

from architectonic.describe.results import Node
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.targets import Look
from architectonic.render.pictures import Seen, bodies_of, meshes_of
from architectonic.session.open.queries import Questions


def seen(asked: Questions, family: Family, at: Scope) -> list[Seen]:
    """The bodies of a row with their meshes, made where they are not there."""
    assembly = family.documents[at.document].kind == "assembly"
    bodies = [Node(what, at, "") for what in (("assembly", "extents") if assembly else ("finished",))]
    meshes = [b.node("mesh") for b in bodies_of(asked.ask(family, bodies), Look(at))]
    return meshes_of(asked.ask(family, [*bodies, *meshes]), Look(at)) if meshes else []

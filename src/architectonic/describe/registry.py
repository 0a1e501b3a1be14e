"""All kinds in one place: which plan evaluates what, which recipes are computed here, and their code versions.

A kind whose computation changes gets a new version, so that results cached before are not taken for its own.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from architectonic.describe.assembly import posing, slack
from architectonic.describe.models import drawn
from architectonic.describe.models import states as model
from architectonic.describe.models.documents import DOCUMENTS
from architectonic.describe.models.operations import OPERATIONS
from architectonic.describe.operations.curves import curve, path
from architectonic.describe.operations.holes import mating, places, section
from architectonic.describe.operations.patterns import moves
from architectonic.describe.operations.surfaces import trim
from architectonic.describe.recipes import COARSE, MeshInput
from architectonic.describe.references import datum, feed, measurement, relations, rule, surveys, switched, value
from architectonic.describe.results import Node, Plan
from architectonic.describe.sketch import solve as sketch
from architectonic.describe.sketch import trace
from architectonic.describe.view import View

PLANS: dict[str, Callable[[View, Node], Plan]] = {
    "value": value.plan_value,
    "rule": rule.plan_rule,
    "on": switched.plan_on,
    "solve": sketch.plan_solve,
    "frame": datum.plan_frame,
    "socket": feed.plan_socket,
    "cut": trace.plan_cut,
    "underlay": datum.plan_underlay,
    "state": model.plan_state,
    "members": moves.plan_members,
    "path": curve.plan_led,
    "pieces": trim.plan_pieces,
    "piece": trim.plan_piece,
    "holes": places.plan_holes,
    "mating": mating.plan_mating,
    "drilled": section.plan_drilled,
    "finished": model.plan_finished,
    "gauged": measurement.plan_gauged,
    "surveyed": surveys.plan_surveyed,
    "fairness": model.plan_body("fairness"),
    "relations": relations.plan_relations,
    "bored": model.plan_bored,
    "measure": model.plan_body("measure"),
    "seams": model.plan_body("seams"),
    "drawn": drawn.plan_drawn,
    "mesh": drawn.plan_mesh,
    "plain": model.plan_body("mesh", MeshInput()),
    "coarse": model.plan_body("mesh", COARSE),
    "mass": model.plan_mass,
    "backdrop": model.plan_backdrop,
    **{what: plan for kind in DOCUMENTS.values() for what, plan in kind.plans.items()},
}

COMPUTED_HERE: dict[str, Callable[[Any], Any]] = {
    "solve": sketch.compute_solve,
    "path": path.compute_path,
    "pose": posing.compute_pose,
    "mobility": posing.compute_mobility,
    "slack": slack.compute_slack,
}
"""Recipes that need no kernel."""

VERSIONS: dict[str, int] = {
    **{kind.recipe: kind.version for kind in OPERATIONS.values() if kind.recipe},
    "solve": 1,
    "path": 1,
    "pose": 5,
    "mobility": 2,
    "slack": 1,
    "outline": 2,
    "pieces": 1,
    "seams": 1,
    "space_curve": 1,
    "face": 3,
    "find": 2,
    "section": 1,
    "gauge": 4,
    "shared": 1,
    "clash": 1,
    "apart": 1,
    "likeness": 1,
    "bored": 1,
    "drilled": 1,
    "threaded": 1,
    "measure": 5,
    "mesh": 8,
    "stood": 1,
    "box": 1,
    "step": 2,
    "facets": 1,
    "flat": 1,
    "survey": 2,
    "fairness": 1,
    "look": 1,
}
"""Code version of every recipe kind."""

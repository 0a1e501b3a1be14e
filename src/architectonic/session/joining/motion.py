"""A joint moved through a range: where everything stands on the way, and where bodies first run into each other."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from architectonic.base import rigid
from architectonic.base.errors import UserFault
from architectonic.base.rigid import Rigid
from architectonic.describe.assembly.clashes import Clashes
from architectonic.describe.assembly.joints import JointState
from architectonic.describe.assembly.posing import Mobility
from architectonic.describe.results import Node
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.evaluator import Evaluator
from architectonic.session.assembly.posing import driven_to

FINEST = 1e-4
"""The first touch is looked for down to this share of the way between two steps."""


class MotionStill(NamedTuple):
    """One position of a motion.

    Attributes:
        value: of the joint, mm or rad.
        problem: why nothing stands there, "" where it does.
        stands: by instance.
        interference: of all bodies together, mm3; None where it could not be worked out.
        grip: how well the joint moves what hangs on it, 1 to 0 at a dead centre (assembly.freedoms.grips).
    """

    value: float
    problem: str
    stands: dict[str, Rigid]
    interference: float | None
    grip: float = 1.0


class JointMotion(NamedTuple):
    """What a joint does on its way.

    Attributes:
        stills: in their order.
        first: the value at which bodies first run into each other, None where none do; clear: the last one before.
    """

    stills: tuple[MotionStill, ...]
    first: float | None = None
    clear: float | None = None

    @property
    def dead(self) -> tuple[float, ...]:
        """Values next to which the joint is at a dead centre: its grip is small there, and smaller than before and after."""
        grips = [(s.value, s.grip if not s.problem else 1.0) for s in self.stills]
        sides = [(1.0, 1.0), *((a[1], b[1]) for a, b in zip(grips, grips[2:], strict=False)), (1.0, 1.0)]
        return tuple(v for (v, g), (a, b) in zip(grips, sides, strict=False) if g < NEAR_DEAD and g <= a and g <= b)


NEAR_DEAD = 0.15
"""A grip below this, the least on its way, is that of a dead centre between two steps."""


def span_of(evaluation: Evaluation, at: Scope, bond: str, field: str, whole: float) -> tuple[float, float]:
    """From limit to limit; where there is none, half of `whole` from where it is now."""
    state = evaluation.value(Node("joint", at, bond))
    if not isinstance(state, JointState):
        raise UserFault("it holds nothing here", "", "choose an alternate in which it does")
    least, most = state.limits.get(field, (None, None))
    now = getattr(state, field)
    return now - whole / 2 if least is None else least, now + whole / 2 if most is None else most


def steps(least: float, most: float, count: int) -> list[float]:
    """Values from one end to the other, both included."""
    return [least + (most - least) * k / (count - 1) for k in range(count)]


def moved_through(
    evaluator: Evaluator,
    family: Family,
    at: Scope,
    bond: str,
    field: str,
    values: Sequence[float],
    touching: bool = True,
) -> JointMotion:
    """A joint driven to one value after the other.

    Args:
        values: mm or rad.
        touching: also whether bodies run into each other; the first touch is then narrowed down between two values.

    Raises:
        UserFault: the joint is driven by an expression with names.
    """

    def still(value: float) -> MotionStill:
        return _still(evaluator, driven_to(family, at, bond, field, value), at, bond, value, touching)

    found: list[MotionStill] = []
    first = clear = None
    for value in values:
        found.append(still(value))
        if first is None and found[-1].interference:
            first = value
            if len(found) > 1:
                clear, first = _narrowed(still, found[-2].value, value)
    return JointMotion(tuple(found), first, clear)


def _narrowed(still: Callable[[float], MotionStill], clear: float, first: float) -> tuple[float, float]:
    """Two values close together, of which bodies run into each other at the second only (bisection)."""
    near = abs(first - clear) * FINEST
    while abs(first - clear) > near:
        middle = (clear + first) / 2
        if still(middle).interference:
            first = middle
        else:
            clear = middle
    return clear, first


def _still(evaluator: Evaluator, family: Family, at: Scope, bond: str, value: float, touching: bool) -> MotionStill:
    wanted = [Node(what, at, "") for what in ("posed", "assembly", "mobility")]
    evaluation = evaluator.evaluate(family, [*wanted, Node("clashes", at, "")] if touching else wanted)
    posed = evaluation.outcomes[wanted[0]]
    if posed.problem is not None:
        return MotionStill(value, posed.problem.what, {}, None)
    placed = evaluation.value(wanted[1]) or ()
    clashes = evaluation.value(Node("clashes", at, "")) if touching else None
    volume = clashes.volume if isinstance(clashes, Clashes) and not clashes.unknown else None
    mobility = evaluation.value(wanted[2])
    grip = mobility.grips.get(bond, 1.0) if isinstance(mobility, Mobility) else 1.0
    return MotionStill(value, "", {p.instance: p.placement for p in placed}, volume, grip)


def travel(motion: JointMotion, instance: str, point: Sequence[float]) -> list[tuple[float, float, float] | None]:
    """Where a point of an instance is at each value, mm in the assembly; None where nothing stands.

    Args:
        point: in what the instance shows.
    """
    return [rigid.moved(s.stands[instance], point) if instance in s.stands else None for s in motion.stills]

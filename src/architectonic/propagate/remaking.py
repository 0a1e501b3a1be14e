"""Asking workers about shapes of an evaluation; what is gone from the store is made again first."""

from __future__ import annotations

from architectonic.base.errors import EnvironmentFault
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.ports import MadeReply


def ask_worker(evaluator: Evaluator, key: str, kind: str, payload: bytes, shapes: tuple[str, ...]) -> MadeReply:
    """What a worker makes of shapes of the last evaluation.

    Raises:
        EnvironmentFault: it failed, or a shape cannot be made again.
    """
    for _ in range(1 + len(shapes)):
        reply: MadeReply = evaluator.executor.submit(key, kind, payload, shapes).result()
        if not reply.lost:
            break
        source = reply.lost.split(".", 1)[0]
        known = evaluator.recipe_of(source)
        if known is None:
            break
        ask_worker(evaluator, source, known[0].kind, known[1], known[0].shapes)
    if reply.defect or reply.lost:
        raise EnvironmentFault(reply.defect or "a shape is gone from the store", "try it again")
    return reply

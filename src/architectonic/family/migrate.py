"""Files of earlier formats read as the present one: plain data in, plain data out, one step for each format.

Nothing is written by reading: a family that is opened and closed is as it was; what is saved is of the present format.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

Step = Callable[[Any], Any]


def _each(value: Any, change: Callable[[dict[str, Any]], dict[str, Any]]) -> Any:
    """Every object inside, innermost first, put through a change."""
    if isinstance(value, dict):
        return change({k: _each(v, change) for k, v in value.items()})
    return [_each(v, change) for v in value] if isinstance(value, list) else value


def from_1(data: Any) -> Any:
    """Format 1 wrote the stage after an operation as text, and called a chamfer a bevel."""

    def change(found: dict[str, Any]) -> dict[str, Any]:
        stage = found.get("stage")
        if isinstance(stage, str) and stage.startswith("after:"):
            found["stage"] = {"after": stage.removeprefix("after:")}
        return found

    data = _each(data, change)
    for operation in data.get("build") or () if isinstance(data, dict) else ():
        if isinstance(operation, dict) and operation.get("kind") == "bevel":
            operation["kind"] = "chamfer"
    return data


STEPS: dict[int, Step] = {1: from_1}
"""By the format that a step starts from."""


def migrated(data: Any, present: int) -> Any:
    """Decoded content of a file as the present format has it."""
    number = data.get("format", 1) if isinstance(data, dict) else present
    while isinstance(number, int) and number < present and number in STEPS:
        data = STEPS[number](data)
        number += 1
        data["format"] = number
    return data

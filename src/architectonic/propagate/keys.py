"""Keys of results: same key, same result (docs/decisions/0005)."""

from __future__ import annotations

import hashlib
from functools import lru_cache

import msgspec

from architectonic.base import tolerance
from architectonic.describe.registry import VERSIONS
from architectonic.describe.results import Recipe

_ENCODER = msgspec.msgpack.Encoder(order="deterministic")


@lru_cache(maxsize=1)
def _environment() -> tuple[object, ...]:
    """What every key depends on: the kernel, the numeric packages and the tolerances."""
    from importlib.metadata import version  # 30 ms that the first frame need not wait for

    packages = [f"{name} {version(name)}" for name in ("cadquery-ocp-novtk", "numpy", "scipy")]
    return (
        *packages,
        tolerance.MODELLING,
        tolerance.SOLVER,
        tolerance.GRID_DECIMALS_LENGTH,
        tolerance.GRID_DECIMALS_ANGLE,
    )


def encode(payload: object) -> bytes:
    """A recipe's input as bytes, the same for equal inputs."""
    return _ENCODER.encode(payload)


def key_of(recipe: Recipe, payload: bytes) -> str:
    """The key of a recipe's result: a hash of kind, code version, environment, input and shapes."""
    head = _ENCODER.encode((recipe.kind, VERSIONS[recipe.kind], _environment(), recipe.shapes))
    return hashlib.blake2b(head + payload, digest_size=20).hexdigest()

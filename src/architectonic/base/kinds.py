"""Finding what is declared: modules of a place in the program, and of the same place in packages that add kinds.

A kind (of operation, of document, ...) is declared in modules of its own and nowhere else; whoever needs all of them asks
here. Packages named in the environment variable ARCHITECTONIC_KINDS, parted by colons, are asked after the program's own:
`more.family.operations.cone` stands beside `architectonic.family.operations.solids.cone`. The variable reaches workers
and commands, so that all processes know the same kinds.
"""

from __future__ import annotations

import os
import pkgutil
from functools import cache
from importlib import import_module
from types import ModuleType
from typing import Any, TypeVar

from architectonic.base.errors import EnvironmentFault

OWN = "architectonic"
VARIABLE = "ARCHITECTONIC_KINDS"

T = TypeVar("T")


def roots() -> tuple[str, ...]:
    """The packages that declare kinds."""
    return (OWN, *(name for name in os.environ.get(VARIABLE, "").split(":") if name))


@cache
def modules(place: str) -> tuple[ModuleType, ...]:
    """All modules below a place such as `family.operations`, by package and name.

    Raises:
        EnvironmentFault: a package that is named in the environment cannot be imported.
    """
    found = []
    for root in roots():
        try:
            package = import_module(f"{root}.{place}")
        except ModuleNotFoundError as fault:
            if (
                root != OWN
                and fault.name is not None
                and f"{root}.{place}".startswith(f"{fault.name}.")
                and fault.name != root
            ):
                continue  # it declares nothing of this sort
            if root == OWN:
                raise
            raise EnvironmentFault(
                f"the package {root} of {VARIABLE} cannot be imported", "install it, or unset it"
            ) from None
        names = sorted(m.name for m in pkgutil.walk_packages(package.__path__, f"{package.__name__}.") if not m.ispkg)
        found += [import_module(name) for name in names]
    return tuple(found)


def functions(place: str, name: str) -> dict[str, Any]:
    """What the modules of a place call by a name, by the last part of the names of those that have it."""
    return {m.__name__.rpartition(".")[2]: getattr(m, name) for m in modules(place) if hasattr(m, name)}


def declared(place: str, kind: type[T], name: str = "KIND") -> list[T]:
    """What modules of a place declare under a name."""
    found = [getattr(module, name) for module in modules(place) if hasattr(module, name)]
    assert all(isinstance(k, kind) for k in found), f"every {name} of {place} is a {kind.__name__}"
    return found


def records(place: str, base: type[T]) -> tuple[type[T], ...]:
    """Record types with a tag of their own that modules of a place define, in order of their modules."""
    found = {
        value: None
        for module in modules(place)
        for value in vars(module).values()
        if isinstance(value, type) and issubclass(value, base) and value.__module__ == module.__name__
    }
    return tuple(k for k in found if getattr(k, "__struct_config__").tag is not None)  # noqa: B009

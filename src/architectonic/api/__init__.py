"""Architectonic from Python: an open family with a living engine, its documents and everything in them by name.

Taught by docs/scripting.md, whose examples the tests run.
"""

from __future__ import annotations

from architectonic.api.opened import OpenFamily, new, open_family
from architectonic.base.errors import EnvironmentFault, UserFault

__all__ = ["EnvironmentFault", "OpenFamily", "UserFault", "new", "open_family"]

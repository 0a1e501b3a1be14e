"""A sketch to draw in."""

from tests.support.pads import pad  # noqa: F401

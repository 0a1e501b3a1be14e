"""The fixtures of windows."""

import pytest

pytest.importorskip("PyQt6")

from tests.support.windows import pad, window  # noqa: F401

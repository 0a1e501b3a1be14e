"""The fixtures of windows, and of a person before one."""

import pytest

pytest.importorskip("PyQt6")

from tests.support.canvases import block  # noqa: F401
from tests.support.person import person  # noqa: F401
from tests.support.windows import demo_files, pad, themed, window  # noqa: F401

"""The examples of docs/scripting.md run as they stand."""

import re
from pathlib import Path

import pytest

pytestmark = pytest.mark.kernel
TEXT = (Path(__file__).parents[1] / "docs" / "scripting.md").read_text("utf-8")
BLOCKS = re.findall(r"```python\n(.*?)```", TEXT, re.S)


def test_the_examples_run(store, tmp_path):
    scope = {"folder": tmp_path}
    assert len(BLOCKS) == 14
    for block in BLOCKS:
        exec(compile(block, "docs/scripting.md", "exec"), scope)


def test_the_plate_is_short():
    assert len([line for line in BLOCKS[0].splitlines() if line.strip() and "assert" not in line]) <= 15

"""The examples of docs/scripting.md run as they stand."""

import re
from pathlib import Path

import pytest

pytestmark = pytest.mark.kernel


def test_the_examples_run(store, tmp_path):
    text = (Path(__file__).parents[1] / "docs" / "scripting.md").read_text("utf-8")
    scope = {"folder": tmp_path}
    blocks = re.findall(r"```python\n(.*?)```", text, re.S)
    assert len(blocks) == 5
    for block in blocks:
        exec(compile(block, "docs/scripting.md", "exec"), scope)

"""Rules of the house that no other tool checks."""

import re
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "architectonic"


def test_layers_hold():
    done = subprocess.run(
        [str(Path(sys.executable).parent / "lint-imports"), "--no-cache"],
        cwd=ROOT,
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0, done.stdout


def test_the_core_works_where_neither_qt_nor_the_kernel_can_be_imported():
    """The window's process never imports the kernel; the core never imports the interface."""
    blocked = (
        "import sys\n"
        "class No:\n"
        "    def find_spec(self, name, path=None, target=None):\n"
        "        if name.split('.')[0] in ('PyQt6', 'OCP'): raise ImportError(name)\n"
        "sys.meta_path.insert(0, No())\n"
        "import architectonic.cli, architectonic.session.open.session, architectonic.session.files.export, architectonic.session.open.engine\n"
        "import architectonic.check.report, architectonic.check.impact, architectonic.render.pictures, architectonic.demo.family\n"
        "architectonic.demo.family.brindle()\n"
    )
    subprocess.run([sys.executable, "-c", blocked], check=True)


def test_modules_and_classes_stay_small():
    """At most 600 lines a module, 300 lines or 25 methods a class, without a written reason here."""
    import ast

    reasons = {
        "desktop/body/canvas.py:BodyCanvas": "a third of its methods are event handlers that Qt wants in the widget",
        "desktop/sketch/canvas.py:LayoutCanvas": "a third of its methods are event handlers that Qt wants in the widget",
        "desktop/panels/madeof.py:MadeOf": "a third of its methods are event handlers that Qt wants in the widget",
    }
    found = []
    for path in SOURCE.rglob("*.py"):
        text = path.read_text("utf-8")
        if text.count("\n") > 600:
            found.append(str(path.relative_to(SOURCE)))
        for node in ast.walk(ast.parse(text)):
            if isinstance(node, ast.ClassDef):
                methods = sum(isinstance(n, ast.FunctionDef) for n in node.body)
                if (node.end_lineno or 0) - node.lineno > 300 or methods > 25:
                    found.append(f"{path.relative_to(SOURCE)}:{node.name}")
    assert [f for f in found if f not in reasons] == []


def test_tolerances_live_in_one_place():
    """No bare tolerance literal in the layers that handle documents."""
    for folder in ("family", "session", "exchange", "check"):
        for path in (SOURCE / folder).rglob("*.py"):
            literals = re.findall(r"[<>]=?\s*1e-\d+", path.read_text("utf-8"))
            assert not literals, path


def test_map_names_existing_files():
    text = (ROOT / "docs" / "map.md").read_text("utf-8")
    for name in re.findall(r"`((?:src|tests|docs|bench)/[^`]+)`", text):
        assert (ROOT / name).exists(), name


@pytest.mark.parametrize("name", ["OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS"])
def test_blas_threads_are_pinned_before_the_first_import(name):
    script = f"import os; os.environ.pop('{name}', None); import architectonic.cli; assert os.environ['{name}'] == '1'; import sys; assert 'numpy' not in sys.modules"
    subprocess.run([sys.executable, "-c", script], check=True)

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
    """At most 450 lines a module, 16 modules a folder, 300 lines or 25 methods a class, without a written reason here."""
    import ast

    reasons = {
        "api/opened.py:OpenFamily": "one method for each thing that a script asks of a family",
        "desktop/body/canvas.py:BodyCanvas": "a third of its methods are event handlers that Qt wants in the widget",
        "desktop/sketch/canvas.py:LayoutCanvas": "a third of its methods are event handlers that Qt wants in the widget",
        "desktop/panels/madeof.py:MadeOf": "a third of its methods are event handlers that Qt wants in the widget",
    }
    found = []
    for path in SOURCE.rglob("*.py"):
        text = path.read_text("utf-8")
        if text.count("\n") > 450:
            found.append(str(path.relative_to(SOURCE)))
        for node in ast.walk(ast.parse(text)):
            if isinstance(node, ast.ClassDef):
                methods = sum(isinstance(n, ast.FunctionDef) for n in node.body)
                if (node.end_lineno or 0) - node.lineno > 300 or methods > 25:
                    found.append(f"{path.relative_to(SOURCE)}:{node.name}")
    for folder in {p.parent for p in SOURCE.rglob("*.py")}:
        if sum(p.name != "__init__.py" for p in folder.glob("*.py")) > 16:
            found.append(str(folder.relative_to(SOURCE)))
    assert [f for f in found if f not in reasons] == []


def test_one_class_name_has_one_meaning():
    """The handles of the Python interface are called as the records that they stand for."""
    import ast
    from collections import Counter

    same = dict.fromkeys(("Constraint", "Bond"), "the record, and its numbers in the solver")
    found = Counter(
        node.name
        for path in SOURCE.rglob("*.py")
        if "api" not in path.relative_to(SOURCE).parts
        for node in ast.parse(path.read_text("utf-8")).body
        if isinstance(node, ast.ClassDef)
    )
    assert {name for name, count in found.items() if count > 1} - set(same) == set()


def test_no_test_imports_another_test_module():
    for path in (ROOT / "tests").rglob("*.py"):
        assert not re.search(r"^\s*(from|import) tests\.(?!support\b)", path.read_text("utf-8"), re.M), path


def test_every_folder_of_tests_has_its_room_in_the_house():
    """Test folders mirror the source, beside flows, support, and the package of kinds that the tests bring along."""
    own = {"flows", "support", "kinds"}
    for path in (ROOT / "tests").rglob("test_*.py"):
        folder = path.parent.relative_to(ROOT / "tests")
        assert folder.parts[:1] == () or folder.parts[0] in own or (SOURCE / folder).is_dir(), path


def test_the_map_names_every_folder_of_the_house():
    text = (ROOT / "docs" / "map.md").read_text("utf-8")
    for folder in sorted({p.parent for p in SOURCE.rglob("*.py") if p.name != "__init__.py"}):
        assert f"`{folder.relative_to(ROOT)}/" in text, folder


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


def test_places_of_sketches_are_taken_apart_in_one_module():
    """Text with a dot is split elsewhere only where it is a path of fields, of modules, of folders or of names."""
    reasons = {
        "base/places.py": "the grammar of places",
        "describe/words/spoken.py": "paths of fields in a record",
        "session/model/building.py": "paths of fields in a record",
        "family/names.py": "names of documents and what they hold, in expressions",
        "base/kinds.py": "names of modules",
        "propagate/making.py": "keys of shapes in the store, which say what made them",
        "propagate/remaking.py": "keys of shapes in the store, which say what made them",
    }
    taking = re.compile(r"partition\(\"\.\"\)|split\(\"\.\"|\"\.\" (?:not )?in ")
    found = {str(p.relative_to(SOURCE)) for p in SOURCE.rglob("*.py") if taking.search(p.read_text("utf-8"))}
    assert found <= set(reasons), found - set(reasons)

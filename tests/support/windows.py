"""A real window, off screen, on a copy of the demo family: fixtures, and waiting until everything is current."""

import shutil

import pytest

pytest.importorskip("PyQt6")

from PyQt6 import QtCore
from pytestqt.qtbot import QtBot

from architectonic.demo import files
from architectonic.desktop.body import canvas
from architectonic.desktop.kit import theme
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.window.shell import MainWindow
from architectonic.family import edits
from architectonic.session.open.engine import Engine
from architectonic.session.open.session import Session

_wait = QtBot.waitUntil


def patiently(self, callback, *, timeout=0):
    """Wait as long as a busy machine may need: nothing is said about how long it takes."""
    _wait(self, callback, timeout=max(timeout, PATIENCE))


QtBot.waitUntil = patiently
PATIENCE = 240_000
"""Milliseconds after which something that does not come is held to be missing."""


class Kept(Engine):
    """The engine of the whole run: a window that closes does not end it."""

    def close(self) -> None:
        """Go on."""


@pytest.fixture(scope="session")
def demo_files(tmp_path_factory):
    """The files beside the demo family, drawn once."""
    folder = tmp_path_factory.mktemp("demo") / "files"
    files.write(folder)
    return folder


@pytest.fixture(scope="session")
def themed(qapp):
    """The application as it looks, set up once as in a process of its own; pictures are not smoothed at rest."""
    theme.apply(qapp)
    canvas.SMOOTH = 0


def opened(qtbot, session, engine):
    """A window on a family, at 1280 x 800, everything current; left at the end."""
    shell = MainWindow(Desk(session, Kept(engine.pool, engine.evaluator)))
    shell.resize(1280, 800)
    shell.show()
    qtbot.waitExposed(shell)
    shell.desk.update()
    settle(qtbot, shell)
    yield shell
    shell.leave()
    shell.deleteLater()


@pytest.fixture
def window(qtbot, themed, demo, demo_files, engine, tmp_path, request, monkeypatch):
    """A window on the demo family; small pictures, which take a second to paint, only where a test looks at them."""
    if request.node.get_closest_marker("small_pictures") is None:
        monkeypatch.setattr("architectonic.desktop.pane.updater.Updater._picture", lambda *_: None)
    session = Session.create(tmp_path / "family", demo, engine.evaluator, tmp_path / "state")
    shutil.copytree(demo_files, tmp_path / "family" / "files", dirs_exist_ok=True)
    yield from opened(qtbot, session, engine)


def settle(qtbot, shell):
    """Wait until everything is current."""
    desk = shell.desk
    qtbot.waitUntil(lambda: not (desk.work.busy or desk.updating) and desk.settled is not None)
    qtbot.wait(40)  # panels refresh in turns of the loop of their own


def worked(qtbot, shell):
    """Wait until a file is read, or whatever else takes long."""
    qtbot.waitUntil(lambda: not shell.desk.work.busy)


@pytest.fixture
def pad(qtbot, themed, engine, tmp_path):
    """A family of one's own with an empty part and a sketch on its top plane."""
    mine = edits.new_family("Mine", ("A", "B"))
    for window in opened(qtbot, Session.create(tmp_path / "mine", mine, engine.evaluator, tmp_path / "state"), engine):
        window.actions_.run("document.new_part")
        qtbot.keyClick(window.prompt.fields[0], QtCore.Qt.Key.Key_Return)
        settle(qtbot, window)
        window.actions_.run("sketch.new")
        window.prompt.fields[0].setText("Outline")
        qtbot.keyClick(window.prompt.fields[1], QtCore.Qt.Key.Key_Return)
        settle(qtbot, window)
        window.sketches.tools.stop()  # a line is in hand: what is chosen is what tests are mostly about
        window.sketches.scale, window.sketches.centre = 4.0, (20.0, 10.0)
        yield window

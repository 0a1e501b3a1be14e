"""Starts the window: `python -m architectonic.desktop [FAMILY | --demo] [--picture FILE] [--size WxH]`."""

from __future__ import annotations

import argparse
import os
import sys
import traceback
from functools import partial
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from architectonic.desktop.pane.desk import Desk


def _arguments() -> argparse.Namespace:
    parser = argparse.ArgumentParser(prog="architectonic", description="Drive related parts of a product family.")
    parser.add_argument("family", nargs="?", type=Path, help="folder of a family; without one the demo is opened")
    parser.add_argument("--demo", action="store_true", help="open a fresh copy of the demo family")
    parser.add_argument("--tutorial", action="store_true", help="open a fresh copy of the tutorial family")
    parser.add_argument("--picture", type=Path, metavar="FILE", help="write a picture of the whole window and end")
    parser.add_argument("--show", default="", metavar="DOCUMENT", help="show this document first")
    parser.add_argument("--tab", default="", help="show this canvas first")
    parser.add_argument("--size", default="1280x800", metavar="WxH")
    return parser.parse_args()


def main() -> int:
    """Open the window; returns the exit status."""
    options = _arguments()
    display = os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")
    if options.picture:
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
    elif not display and os.environ.get("QT_QPA_PLATFORM") not in ("offscreen", "vnc"):
        sys.stderr.write(
            "There is no display here. Start it on a desktop, forward one (ssh -X), or write a picture of the window "
            "with: bin/demo --picture window.png\n"
        )
        return 2
    from PyQt6.QtWidgets import QApplication

    from architectonic.base.errors import ArchitectonicError
    from architectonic.base.folders import state_folder
    from architectonic.desktop.commands.family import demo_session
    from architectonic.desktop.kit import theme
    from architectonic.desktop.pane.desk import Desk
    from architectonic.desktop.window.shell import MainWindow
    from architectonic.session.open.engine import Engine
    from architectonic.session.open.session import Session

    application = QApplication(sys.argv[:1])
    application.setApplicationName("Architectonic")
    theme.apply(application)
    engine = Engine.start()
    engine.pool.warm()
    try:
        if options.family and not (options.demo or options.tutorial):
            session = Session.open(options.family, engine.evaluator, state_folder())
        else:
            session = demo_session(engine, options.tutorial)
    except ArchitectonicError as fault:
        sys.stderr.write(f"{fault}\n")
        engine.close()
        return 2
    desk = Desk(session, engine)
    window = MainWindow(desk)
    sys.excepthook = partial(_on_defect, desk)
    width, height = (int(n) for n in options.size.split("x"))
    window.resize(width, height)
    window.show()
    window.commands.families.offer_left()
    if options.show:
        desk.show(next(d.id for d in desk.family.documents.values() if d.name == options.show))
    else:
        window.commands.split()  # cause beside effect
    if options.tab:
        window.show_tab(options.tab)
    if window.drivers.fields:
        window.drivers.fields[0].setFocus()  # the first keystroke shows what the product is for
    if options.picture:
        return _picture(application, window, desk, options.picture)
    return application.exec()


def _on_defect(desk: Desk, kind: type[BaseException], defect: BaseException, trace: TracebackType | None) -> None:
    """A defect in the window: told and written down; the program goes on, as edits are safe in the journal."""
    told = "".join(traceback.format_exception(kind, defect, trace))
    desk.defects.note(told, "Your edits are kept; Ctrl+Z takes the last one back.")


def _picture(application: object, window: object, desk: object, path: Path) -> int:
    """Wait until everything is current and settled on the screen, then write the window as PNG."""
    from PyQt6.QtCore import QEventLoop, QTimer

    loop = QEventLoop()
    watch = QTimer()
    watch.setInterval(50)
    calm = [0]

    def look() -> None:
        calm[0] = 0 if desk.updating else calm[0] + 1  # type: ignore[attr-defined]
        if calm[0] > 8:
            loop.quit()

    watch.timeout.connect(look)
    watch.start()
    QTimer.singleShot(120_000, loop.quit)
    loop.exec()
    ok = window.grab().save(str(path))  # type: ignore[attr-defined]
    window.close()  # type: ignore[attr-defined]
    if not ok:
        sys.stderr.write(f"{path} could not be written; check that the folder exists\n")
    return 0 if ok else 2


if __name__ == "__main__":
    sys.exit(main())

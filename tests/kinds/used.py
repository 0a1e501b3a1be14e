"""Uses kinds of another package as a person and a script would; run in a process that knows them (see test_kinds.py)."""

import json
import sys
from pathlib import Path

from outpost.family.documents.bill import Bill
from outpost.family.operations.ball import Ball

from architectonic.family import edits, names
from architectonic.family.records import Reference
from architectonic.session.model import building
from architectonic.session.open.session import Session


def family():
    """A part with a ball of 10 mm radius in aluminium, and a bill that weighs it."""
    found = edits.new_family("Balls")
    found, part = edits.add_document(found, "part", "Marble")
    document = found.documents[part]
    made = building.new("ball", document, {"centre": Reference(item="origin")})
    assert isinstance(made, Ball) and made.does == "make"
    made = edits.replace(made, radius=names.bind_quantity(found, document, "10 mm", "length", "mm"))
    found = building.store(found, part, made, body_name="Marble")
    (body,) = found.documents[part].bodies
    said = edits.replace(found.documents[part].bodies[body], material="")
    found = building.change_body(found, part, body, said, "2.7 g / 1 cm3")
    found, bill = edits.add_document(found, "bill", "Bill")
    return edits.put(found, edits.replace(found.documents[bill], of=(part,)))


def write(folder):
    """Into a new folder."""
    Session.create(Path(folder), family())


def window(folder):
    """What the window shows of it."""
    from PyQt6.QtWidgets import QApplication

    from architectonic.desktop.kit import theme
    from architectonic.desktop.kit.signs import icon
    from architectonic.desktop.pane.desk import Desk
    from architectonic.desktop.window.shell import MainWindow
    from architectonic.desktop.window.verbs import VIEWS
    from architectonic.session.open.engine import Engine

    application = QApplication([])
    theme.apply(application)
    engine = Engine.start(Path(folder) / "cache", 1)
    session = Session.open(Path(folder) / "family", engine.evaluator)
    shell = MainWindow(Desk(session, engine))
    shell.resize(1280, 800)
    shell.show()
    marble, bill = (edits.find_document(session.family, n).id for n in ("Marble", "Bill"))
    shell.desk.show(marble)
    while shell.desk.updating or shell.desk.settled is None:
        application.processEvents()
    rows = [e.text for e in shell.made_of.entries]
    facts = dict(shell.right.facts())
    shell.actions_.run("operation.ball")
    sentence = [f.blank.field for f in shell.card.blanks.values()]
    shell.card.leave()
    shell.finder.start()
    shell.finder.field.setText("sphere")
    found = shell.finder.list.item(0).text()
    shell.finder.hide()
    shell.desk.show(bill)
    while shell.desk.updating:
        application.processEvents()
    shown = {
        "rows": rows,
        "volume": facts.get("Volume"),
        "sentence": sentence,
        "found": found,
        "verbs": next(shell.actions_.actions[k].title for g in VIEWS["Bodies"] for k in g.ids if k.endswith(".ball")),
        "new": shell.actions_.actions["document.new_bill"].title,
        "tabs": list(shell.tabs.buttons),
        "sign": not icon("bill").isNull(),
        "note": Bill.__name__,
    }
    shell.leave()
    print(json.dumps(shown))


if __name__ == "__main__":
    {"write": write, "window": window}[sys.argv[1]](sys.argv[2])

"""What may not be stored is refused at every door alike: the open family, the Python interface, the command line."""

import pytest

import architectonic as a
from architectonic import cli
from architectonic.base.errors import UserFault
from architectonic.family import edits
from architectonic.session.open.policy import Disagreement, allowed
from architectonic.session.open.session import Session
from architectonic.session.open.whatif import find_value, with_values

SHORT = "Elevation.Side.arm_length=0.001 mm"
"""So short that the arm of the demo's layout cannot reach its ends."""


def typed(family):
    document, item = find_value(family, "Elevation.Side.arm_length")
    return edits.set_value(family, document, item, "0.001 mm")


def test_an_open_family_refuses_a_dimension_that_cannot_hold(demo, tmp_path):
    session = Session.create(tmp_path / "f", demo)
    with pytest.raises(Disagreement, match="cannot all be true") as fault:
        session.apply("arm", typed)
    assert session.family == demo and fault.value.constraints


def test_so_do_values_given_from_outside_and_the_command_line(demo, tmp_path, capsys):
    with pytest.raises(UserFault, match="nothing was stored"):
        with_values(demo, [SHORT])
    Session.create(tmp_path / "f", demo)
    assert cli.main(["impact", str(tmp_path / "f"), "--set", SHORT]) == 2
    assert "cannot all be true" in capsys.readouterr().err


def test_and_python(demo, tmp_path, store):
    Session.create(tmp_path / "f", demo)
    with a.open(tmp_path / "f", store=store) as family:
        with pytest.raises(a.UserFault, match="nothing was stored"):
            family.set("Elevation.Side.arm_length", "0.001 mm")
        assert family.family == demo


def test_a_value_from_outside_may_put_a_sketch_in_conflict_and_says_so(demo):
    """It is stored, since the table is right by itself; the sketch then gives no curves, and that is reported."""
    family, layout = edits.add_document(edits.new_family("F"), "layout", "L")
    family = edits.add_parameter(family, layout, "long", "10 mm")
    opened = a.OpenFamily(Session(_stored(family)), kept=False)
    sketch = opened["L"].sketch("S")
    first = sketch.line((0, 0), (10, 0))
    for place in (first.start, first.end):
        sketch.constrain("fix", place)
    with pytest.raises(a.UserFault):
        sketch.constrain("distance", first, value="12 mm")
    opened.set("L.long", "11 mm")
    assert opened["L"].value("long") == 11
    opened.close()


def test_a_sketch_in_conflict_can_still_be_worked_on(demo):
    worse = typed(demo)
    document, item = find_value(worse, "Elevation.Side.arm_length")
    again = edits.set_value(worse, document, item, "0.002 mm")
    assert allowed(worse, again) is again


def _stored(family):
    from pathlib import Path

    from architectonic.exchange import folder

    return folder.Stored(Path(), family, {})


def test_a_value_that_is_no_number_in_some_size_is_refused_where_it_is_typed():
    """What a table says elsewhere may take a value away later: that is stored, and told as a fault of what follows."""
    with a.new("F", sizes=("S", "L")) as family:
        table = family.table("T")
        table.parameter("wide", "4 mm", L="-4 mm")
        before = family.family
        for act in (
            lambda: table.parameter("root", "sqrt(wide / 1 mm) * 1 mm"),
            lambda: table.parameter("power", "(wide / 1 mm)^0.5 * 1 mm"),
            lambda: table.parameter("share", "1 mm / (wide - 4 mm) * 1 mm"),
        ):
            with pytest.raises(a.UserFault, match=r"check roots and powers|divides by zero"):
                act()
        assert family.family is before
        family.set("T.wide@L", "9 mm")
        table.parameter("root", "sqrt(wide / 1 mm) * 1 mm")
        assert table.in_size("L").value("root") == 3
        family.set("T.wide@L", "-9 mm")
        (item,) = family.check()["attention"]
        assert "root" in item["where"] and "check roots and powers" in item["mend"]

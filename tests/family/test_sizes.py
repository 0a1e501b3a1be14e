"""Sizes, rows and the configuration rule."""

import pytest

from architectonic.base.errors import UserFault
from architectonic.family import edits, scopes
from architectonic.family.records import MATCH
from architectonic.family.scopes import Scope


@pytest.fixture
def family():
    made = edits.new_family("Trial", ("S", "M", "L"))
    made, _ = edits.add_document(made, "table", "Sizes")
    made, _ = edits.add_document(made, "part", "Plate")
    return made


def ids(family):
    return [s.id for s in family.head.sizes]


def test_every_document_has_all_sizes_without_declaring_any(family):
    for document in family.documents.values():
        assert [n for _, n in scopes.configurations(family, document)] == ["S", "M", "L"]


def test_a_family_without_sizes_reports_one_called_default():
    made = edits.new_family("Plain")
    made, key = edits.add_document(made, "table", "T")
    assert [n for _, n in scopes.configurations(made, made.documents[key])] == ["default"]


def test_a_row_that_stands_for_a_size_is_what_the_size_means_there(family):
    _s, _m, l = ids(family)
    plate = edits.find_document(family, "Plate").id
    family, row = edits.add_configuration(family, plate, "L", size=l)
    assert scopes.scope(family, plate, l) == Scope(plate, row)
    sizes = edits.find_document(family, "Sizes").id
    assert scopes.source_scope(family, Scope(sizes, l), plate, MATCH) == Scope(plate, row)


def test_a_row_takes_its_parents_size_and_values(family):
    _s, _m, l = ids(family)
    plate = edits.find_document(family, "Plate").id
    family = edits.add_parameter(family, plate, "t", "2 mm", own={l: "3 mm"})
    family, child = edits.add_configuration(family, plate, "L exit", parent=l)
    at = Scope(plate, child)
    assert scopes.size_of(family, at) == l
    parameter = family.documents[plate].parameters[0]
    assert scopes.cell(family, at, parameter) == (l, parameter.own[l])
    family = edits.set_value(family, plate, parameter.id, "4 mm", child)
    parameter = family.documents[plate].parameters[0]
    assert scopes.cell(family, at, parameter)[1].text == "4 mm"
    family = edits.clear_cell(family, plate, parameter.id, child)
    assert scopes.cell(family, at, family.documents[plate].parameters[0])[0] == l


def test_the_common_cell_then_holds_everywhere(family):
    _s, _m, l = ids(family)
    sizes = edits.find_document(family, "Sizes").id
    family = edits.add_parameter(family, sizes, "wall", "2 mm", own={l: "3 mm"})
    item = family.documents[sizes].parameters[0].id
    family = edits.set_value(family, sizes, item, "5 mm", "")
    assert family.documents[sizes].parameters[0].own == {}


def test_a_row_may_not_be_called_like_a_size(family):
    plate = edits.find_document(family, "Plate").id
    with pytest.raises(UserFault, match="choose a different name"):
        edits.add_configuration(family, plate, "m")

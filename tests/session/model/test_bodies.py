"""Names and materials of bodies; masses follow the density table (sources beside it)."""

import pytest
from tests.support.models import Model

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.records import Reference
from architectonic.family.scopes import Scope
from architectonic.propagate.targets import all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.quantities.compiled import fixed_value
from architectonic.quantities.materials import MATERIALS, density_text
from architectonic.session.model import building

PRINTED = {"steel": 7850, "stainless steel 1.4301": 7900, "EN AW-6060": 2700}
"""kg/m3 as printed in EN 1991-1-1, EN 10088-1 and EN 1999-1-1 (from memory)."""


@pytest.mark.parametrize(("name", "density"), PRINTED.items())
def test_standard_densities(name, density):
    assert fixed_value(density_text(name), "density") * 1e6 == pytest.approx(density)


def test_every_material_has_a_source_and_a_plausible_density():
    for material in MATERIALS:
        assert material.source and 0.1 < material.density < 23  # osmium is the densest, 22.6 g/cm3
        assert fixed_value(density_text(material.name), "density") == pytest.approx(material.density / 1000)
    assert density_text("unobtainium") == ""


def said(family, part, key, density, **properties):
    """A body of a part with other properties."""
    body = edits.replace(family.documents[part].bodies[key], **properties)
    return building.change_body(family, part, key, body, density)


def test_a_chosen_material_brings_its_density_unless_one_is_typed(demo):
    foot = edits.find_document(demo, "Foot")
    key = next(iter(foot.bodies))
    was = foot.bodies[key].density.text
    changed = said(demo, foot.id, key, was, material="steel")
    assert changed.documents[foot.id].bodies[key].density.text == "7.85 g / 1 cm3"
    own = said(demo, foot.id, key, "7.7 g / 1 cm3", material="steel")
    assert own.documents[foot.id].bodies[key].density.text == "7.7 g / 1 cm3"
    none = said(demo, foot.id, key, "", material="")
    assert none.documents[foot.id].bodies[key].density is None
    with pytest.raises(UserFault, match="not a positive"):
        said(demo, foot.id, key, "-1 g / 1 cm3", material="steel")


@pytest.mark.kernel
def test_the_mass_follows_and_a_backdrop_weighs_nothing(demo, engine):
    foot = edits.find_document(demo, "Foot")
    key = next(iter(foot.bodies))
    node = Node("mass", Scope(foot.id, demo.head.sizes[1].id), key)

    def mass(family):
        return evaluate_scopes(engine.evaluator, family, all_scopes(family)).value(node)

    before = mass(demo)
    steel = said(demo, foot.id, key, foot.bodies[key].density.text, material="steel")
    assert mass(steel) / before == pytest.approx(7.85 / 1.04)
    assert mass(said(demo, foot.id, key, "1 g / 1 cm3", material="ABS", backdrop_only=True)) == 0


def test_a_name_that_nobody_gave_follows_what_the_sentence_says():
    model = Model()
    part = model.part("Part")
    model.block(part)
    sketch, _, label = model.rectangle(part, "other", "10 mm", "10 mm")
    region = Reference(item=sketch, label=label)

    def stored(operation):
        model.family = building.store(model.family, part, operation)
        return edits.operation(model.family, part, operation.id)

    document = model.family.documents[part]
    cut = stored(building.new("extrude", document, {"regions": (region,), "does": "cut", "acts_on": ("b1",)}))
    assert cut.name == "Cut"
    made = stored(edits.replace(cut, does="make", acts_on=("b9",)))
    assert made.name == "Block 2"  # there is one already
    given = stored(edits.replace(made, name="Foot pad"))
    assert stored(edits.replace(given, does="cut", acts_on=("b1",))).name == "Foot pad"

"""Which configuration of its source a reference takes."""

import pytest
from tests.support.fakes import FakeExecutor

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.family import edits, names
from architectonic.family.graph.reading import Place
from architectonic.family.graph.static import Graph
from architectonic.family.records import Circle, Constraint, Feed, Reference, Size, Sketch, Socket
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluator import Evaluator


def test_an_expression_chooses_the_configuration_that_a_feed_takes():
    """Beyond 300 mm of reach the shade's outline of L is taken, else that of M; a renamed size follows."""
    family = edits.new_family("F", ("S", "M", "L"))
    s, m, l_ = (z.id for z in family.head.sizes)
    family, layout = edits.add_document(family, "layout", "Lay")
    family = edits.add_parameter(family, layout, "d", "10 mm", own={m: "20 mm", l_: "30 mm"})
    bound = names.bind(family, family.documents[layout], "d", None)
    ring = Sketch(
        id="sk",
        name="Ring",
        plane=Reference(item="top"),
        curves={"c": Circle(centre=(0, 0), radius=5)},
        constraints=(
            Constraint(id="k", kind="fix", of=("c.centre",)),
            Constraint(id="kd", kind="diameter", of=("c",), value=bound),
        ),
    )
    family = edits.add_operation(family, layout, ring)
    family, part = edits.add_document(family, "part", "Part")
    family = edits.add_parameter(family, part, "reach", "250 mm", own={s: "350 mm"})
    chosen = names.bind_choice(family, family.documents[part], "pick(reach > 300 mm, L, M)", layout)
    feed = Feed(
        name="ring",
        sockets={"so": Socket(takes="curve", source=Reference(of=layout, item="sk", label="c", chosen=chosen))},
    )
    family = edits.add_feed(family, part, "fe", feed)
    socket = {row: Node("socket", Scope(part, row), "so") for row in (s, m, l_)}

    def radii(of):
        found = Evaluator(FakeExecutor()).evaluate(of, list(socket.values()))
        return [found.value(n).curve.values[2] for n in socket.values()]

    assert radii(family) == [15.0, 10.0, 10.0]
    renamed = edits.replace(
        family,
        head=edits.replace(family.head, sizes=(Size(id=s, name="S"), Size(id=m, name="M"), Size(id=l_, name="XL"))),
    )
    assert radii(renamed) == [15.0, 10.0, 10.0]
    assert names.shown_text(renamed, renamed.documents[part], chosen) == "pick(reach > 300 mm, XL, M)"
    graph = Graph(family)
    assert Place(Scope(part, s), "so") in graph.reach([Place(Scope(layout, l_), "kd")])
    assert Place(Scope(part, s), "so") not in graph.reach([Place(Scope(layout, s), "kd")])
    gone = edits.replace(family, head=edits.replace(family.head, sizes=family.head.sizes[:2]))
    found = Evaluator(FakeExecutor()).evaluate(gone, [socket[s]])
    assert found.outcomes[socket[s]].problem.severity == "missing"
    with pytest.raises(UserFault):
        names.bind_choice(family, family.documents[part], "pick(reach > 300 mm, XXL, M)", layout)

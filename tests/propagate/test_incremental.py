"""Incremental evaluation equals evaluation from scratch, whatever came before; after undo nothing is computed."""

import random
import subprocess
import sys
from functools import cache, partial

import msgspec
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.support.fakes import FakeExecutor
from tests.support.random_edits import random_edit

from architectonic.base.errors import UserFault
from architectonic.describe import registry
from architectonic.describe.results import NodeFault
from architectonic.exchange import folder
from architectonic.family import edits
from architectonic.family.graph.reading import Place
from architectonic.family.graph.static import Graph, refuse_circle
from architectonic.family.records import Family, use_of
from architectonic.propagate.cache import ResultCache
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.targets import all_scopes
from architectonic.propagate.whole import evaluate_scopes

pytestmark = pytest.mark.no_cover  # many runs of what other tests cover: tracing would make them three times as long


def evaluate(evaluator, family, scopes=None):
    return evaluate_scopes(evaluator, family, scopes or all_scopes(family))


def outcomes(evaluation):
    return {n: (o.value, o.problem) for n, o in evaluation.outcomes.items()}


@pytest.fixture(scope="module")
def solved_once():
    """The same sketch is solved once in this module: solving is a pure function of its input (tests/sketch), and
    evaluation from scratch may then be repeated often. Nothing else is shared between evaluators."""
    known = {}
    solve = registry.COMPUTED_HERE["solve"]

    def remembered(payload):
        key = msgspec.msgpack.encode(payload)
        if key not in known:
            try:
                known[key] = solve(payload), None
            except NodeFault as fault:
                known[key] = None, fault
        value, fault = known[key]
        if fault is not None:
            raise fault
        return value

    with pytest.MonkeyPatch.context() as patch:
        patch.setitem(registry.COMPUTED_HERE, "solve", remembered)
        yield


@settings(max_examples=2)
@given(st.integers(0, 10**9))
@pytest.mark.usefixtures("solved_once")
def test_incremental_equals_from_scratch(demo, seed):
    """A long-lived evaluator against a fresh one, through edits, undos and partial looks at single sizes."""
    draw = random.Random(seed)
    executor = FakeExecutor()
    lived = Evaluator(executor)
    past = [demo]
    for _ in range(5):
        if draw.random() < 0.25 and len(past) > 1:
            past.pop()
        else:
            try:
                past.append(refuse_circle(random_edit(past[-1], draw)))
            except UserFault:
                continue
        family = past[-1]
        scopes = all_scopes(family)
        evaluate(lived, family, draw.sample(scopes, draw.randrange(1, len(scopes))))
        incremental = evaluate(lived, family)
        scratch = evaluate(Evaluator(FakeExecutor()), family)
        assert outcomes(incremental) == outcomes(scratch)
        assert incremental.keys == scratch.keys
        assert not [o for o in scratch.outcomes.values() if o.problem and o.problem.code == "defect"]


def test_a_source_that_is_deleted_and_brought_back_is_noticed(demo):
    """Whether a source exists is a read like any other."""
    lived = Evaluator(FakeExecutor())
    last = demo.head.sizes[-1].id
    scopes = [s for s in all_scopes(demo) if s.configuration == last]
    before = evaluate(lived, demo, scopes)
    for document in demo.documents.values():
        for item in (*document.parameters, *getattr(document, "build", ()))[::28]:
            evaluate(lived, edits.delete_item(demo, document.id, item.id), scopes)
            assert outcomes(evaluate(lived, demo, scopes)) == outcomes(before), item.name
        gone = edits.delete_document(demo, document.id)
        evaluate(lived, gone, [s for s in scopes if s.document != document.id])
        assert outcomes(evaluate(lived, demo, scopes)) == outcomes(before), document.name


@settings(max_examples=4)
@given(st.integers(0, 10**9))
@pytest.mark.filterwarnings("ignore:Generating overly large repr")  # which hides what failed
@pytest.mark.usefixtures("solved_once")
def test_the_static_graph_misses_no_read(demo, seed):
    draw = random.Random(seed)
    family = demo
    for _ in range(3):
        try:
            family = refuse_circle(random_edit(family, draw))
        except UserFault:
            continue
    evaluation = evaluate(Evaluator(FakeExecutor()), family)
    graph, noted = Graph(family), evaluation.reads
    further = cache(partial(_further, graph))

    listed = {key: _items(family, key) for key in family.documents}
    whole = dict.fromkeys(("assembly", "mobility", "extents", "balance", "clashes", "slack"), "assembly")

    def place(node):
        item = {**whole, "finished": "finished", "posed": "posed"}.get(node.what, use_of(node.item)[0] or "finished")
        return Place(node.at, item)

    def read_by(reads):
        """Where something stands is no place of its own: what names it reads what that takes."""
        for read in reads:
            yield from read_by(noted[read]) if read.what == "stands" else (read,)

    for node, reads in noted.items():
        if node.what in ("relations", "mounted", "stands"):
            continue  # how bodies stand to each other is read by nothing; a place is read by the bond that names it
        own = place(node)
        # a mass reads the body it weighs, one step further; an instance all bodies below it, however deep
        known = further(own, 2 if node.what not in ("placed", *whole) else 13)
        for read in read_by(reads):
            if place(read) == own or read.item not in listed.get(read.document, {}):
                continue
            assert place(read) in known, (node, read)


def _further(graph, own, steps):
    """A place and all that are read by it, in so many steps."""
    known = new = {own}
    for _ in range(steps):
        new = {p for k in new for p in graph.reads.get(k, ())} - known
        known = known | new
    return known


def _items(family, document):
    from architectonic.family.walk import items

    found = family.documents.get(document)
    return dict(items(found)) if found else {}


def test_after_undo_nothing_is_computed(demo):
    lived = Evaluator(FakeExecutor())
    before = evaluate(lived, demo)
    sizes = edits.find_document(demo, "Sizes")
    wall = next(p for p in sizes.parameters if p.name == "wall")
    changed = evaluate(lived, edits.set_value(demo, sizes.id, wall.id, "2.9 mm"))
    assert changed.work.computed > 0
    again = evaluate(lived, demo)
    assert again.work.computed == 0
    assert outcomes(again) == outcomes(before)
    same = evaluate(lived, demo)
    assert same.work.computed == 0 and same.work.looked_into == 0


def test_one_size_alone_is_touched(demo):
    """The traced edit: wall in M. Nothing of S and L is looked into; the arm, whose wall is its own, is not computed."""
    lived = Evaluator(FakeExecutor())
    evaluate(lived, demo)
    sizes = edits.find_document(demo, "Sizes")
    wall = next(p for p in sizes.parameters if p.name == "wall")
    m = demo.head.sizes[1].id
    changed = evaluate(lived, edits.set_value(demo, sizes.id, wall.id, "2.6 mm", m))
    assert {n.at.configuration for n, _, _ in changed.work.reasons} == {m}
    assert {demo.documents[n.document].name for n, _, _ in changed.work.reasons} == {
        "Foot",
        "Head front",
        "Head rear",
        "Ballast",
        "Cheek L",
        "Cheek R",
        "Desk clamp",
        "Bezel",
        "Diffuser",
        "Elbow",
        "Elbow joint",
        "Collar",
        "Stand",  # which is drilled through what stands in it
        "Head",  # where its parts run into each other is looked at anew, and so in the light
        "Light",
    }
    assert all("changed" in reason for _, _, reason in changed.work.reasons)


def test_the_wave_stops_where_a_value_comes_out_equal(demo):
    lived = Evaluator(FakeExecutor())
    evaluate(lived, demo)
    arm = edits.find_document(demo, "Arm tube")
    wall = next(p for p in arm.parameters if p.name == "wall")
    same = evaluate(lived, edits.set_value(demo, arm.id, wall.id, "pick(length < 340 mm, 3 mm / 2, 4 mm / 2)"))
    assert same.work.computed == 0


def test_from_2_to_20_and_back_leaves_the_old_model_and_no_work(demo):
    lived = Evaluator(FakeExecutor())
    first = evaluate(lived, demo)
    sizes = edits.find_document(demo, "Sizes")
    wall = next(p for p in sizes.parameters if p.name == "wall")
    there = edits.set_value(demo, sizes.id, wall.id, "20 mm", "")
    evaluate(lived, there)
    family = edits.set_value(there, sizes.id, wall.id, "2.4 mm", "")
    for size, text in ((0, "2 mm"), (2, "2.8 mm")):
        family = edits.set_value(family, sizes.id, wall.id, text, demo.head.sizes[size].id)
    assert family == demo
    back = evaluate(lived, family)
    assert back.work.computed == 0 and outcomes(back) == outcomes(first)


@pytest.mark.kernel
def test_incremental_equals_from_scratch_with_the_real_kernel(demo, engine):
    draw = random.Random(11)
    family, lived = demo, engine.evaluator
    for _ in range(2):
        try:
            family = refuse_circle(random_edit(family, draw))
        except UserFault:
            continue
        incremental = evaluate(lived, family)
    scratch = evaluate(Evaluator(engine.pool, ResultCache()), family)
    assert incremental.keys == scratch.keys
    for node, outcome in scratch.outcomes.items():
        again = incremental.outcomes[node]
        assert again.problem == outcome.problem
        if node.what == "measure":  # shapes agree by measurement at 1e-9 relative
            for figure, value in (outcome.value or {}).items():
                assert again.value[figure] == pytest.approx(value, rel=1e-9, abs=1e-9)
        elif node.what not in ("mass", "placed", "assembly"):
            assert again.value == outcome.value


@pytest.mark.kernel
def test_the_same_key_gives_the_same_result_in_two_processes(demo, tmp_path):
    folder.save(folder.Stored(tmp_path / "family", Family(head=demo.head), {}), demo)
    script = (
        "import sys,pathlib;from architectonic.exchange import folder;from architectonic.session.open.engine import Engine;"
        "from architectonic.propagate.whole import evaluate_scopes;from architectonic.propagate.targets import all_scopes;"
        "f=folder.load(pathlib.Path(sys.argv[2])).family;e=Engine.start(pathlib.Path(sys.argv[1]));d=[d.id for d in f.documents.values() if d.name=='Cheek L'];"
        "r=evaluate_scopes(e.evaluator,f,all_scopes(f,tuple(d))[-1:]);e.close();"
        "print(sorted((str(n),k) for n,k in r.keys.items()));"
        "print(sorted((str(n),str(o.value)) for n,o in r.outcomes.items() if n.what!='measure'));"
        "print([[round(o.value['volume_mm3'],6)]+[round(b,6) for b in o.value['box_mm']] for n,o in sorted(r.outcomes.items()) if n.what=='measure'])"
    )
    runs = [
        subprocess.run(
            [sys.executable, "-c", script, str(tmp_path / name), str(tmp_path / "family")],
            capture_output=True,
            text=True,
            check=True,
        ).stdout
        for name in ("a", "b")
    ]
    assert runs[0] == runs[1] and len(runs[0]) > 1000

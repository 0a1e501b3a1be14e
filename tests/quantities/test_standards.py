"""Tables of threads, screws, pins and cores, beside standards and packages that have them too."""

import math

import pressfit
import pytest
from screw_thread_lib.data import ASME

from architectonic.base.errors import UserFault
from architectonic.quantities.standards import fits, plastics, screws, threads

INCH = 25.4


def metric(name):
    return threads.BY_KEY[threads.key_of(name)]


# ISO 262 first and second choice, pitches and basic diameters d2 and D1 (ISO 724), from memory, and the drills of the trade
@pytest.mark.parametrize(
    ("name", "pitch", "d2", "d1", "drill"),
    [
        ("M2", 0.4, 1.740, 1.567, 1.6),
        ("M3", 0.5, 2.675, 2.459, 2.5),
        ("M4", 0.7, 3.545, 3.242, 3.3),
        ("M5", 0.8, 4.480, 4.134, 4.2),
        ("M6", 1.0, 5.350, 4.917, 5.0),
        ("M8", 1.25, 7.188, 6.647, 6.8),
        ("M10", 1.5, 9.026, 8.376, 8.5),
        ("M12", 1.75, 10.863, 10.106, 10.2),
        ("M16", 2.0, 14.701, 13.835, 14.0),
        ("M20", 2.5, 18.376, 17.294, 17.5),
        ("M24", 3.0, 22.051, 20.752, 21.0),
    ],
)
def test_coarse_threads_have_the_pitches_and_basic_diameters_of_iso_261_and_724(name, pitch, d2, d1, drill):
    found = metric(name)
    assert found.pitch == pitch
    assert found.pitch_diameter == pytest.approx(d2, abs=6e-4)
    assert found.minor_diameter == pytest.approx(d1, abs=6e-4)
    assert found.drill == drill
    assert (found.standard, found.usual_class) == ("ISO 261", "6H")


def test_every_tap_drill_lies_between_the_basic_minor_diameter_and_a_thread_that_still_holds():
    # common practice: 65 to 100 % of the basic height of engagement stay; M1.6 and the numbered inch sizes are tapped freer
    for t in threads.THREADS:
        engaged = (t.diameter - t.drill) / (t.diameter - t.minor_diameter)
        assert 0.62 <= engaged <= 1.02, t


@pytest.mark.parametrize("name", sorted(k for k, v in ASME.ASME_UN_2A2B_dict.items() if v["series"] in ("UNC", "UNF")))
def test_unified_threads_agree_with_the_limits_of_asme_b1_1(name):
    # screw_thread_lib 0.0.6, "values from ASME B1.1-2019": minor diameters of class 2B
    theirs = ASME.ASME_UN_2A2B_dict[name]
    own = next(
        (t for t in threads.THREADS if t.name in (f"{name} {theirs['series']}", f"#{name} {theirs['series']}")), None
    )
    if own is None:
        assert theirs["dbsc"] >= 1.0  # sizes that these tables do not go up to
        return
    assert own.diameter == pytest.approx(theirs["dbsc"] * INCH)
    assert own.pitch == pytest.approx(INCH / theirs["n"])
    assert own.pitch_diameter == pytest.approx(theirs["D2min"] * INCH, abs=0.0013)
    assert theirs["D1min"] * INCH - 0.02 <= own.drill <= theirs["D1max"] * INCH + 0.02


def test_names_are_one_to_one_with_keys_that_an_expression_can_say():
    for known, by_key in ((threads.THREADS, threads.BY_KEY), (screws.SCREWS, screws.BY_KEY)):
        assert len(by_key) == len(known) == len({t.name for t in known})
        assert all(k.isidentifier() for k in by_key)


# ISO 273, fine, medium and coarse, from memory
@pytest.mark.parametrize(
    ("name", "clearance"),
    [
        ("M1.6", (1.7, 1.8, 2.0)),
        ("M3", (3.2, 3.4, 3.6)),
        ("M4", (4.3, 4.5, 4.8)),
        ("M5", (5.3, 5.5, 5.8)),
        ("M6", (6.4, 6.6, 7.0)),
        ("M8", (8.4, 9.0, 10.0)),
        ("M10", (10.5, 11.0, 12.0)),
        ("M12", (13.0, 13.5, 14.5)),
        ("M16", (17.0, 17.5, 18.5)),
        ("M24", (25.0, 26.0, 28.0)),
    ],
)
def test_clearance_holes_are_those_of_iso_273(name, clearance):
    assert screws.BY_KEY[threads.key_of(name)].clearance == clearance


def test_heads_have_the_sizes_and_the_invariants_of_iso_4762_and_10642():
    # ISO 4762 dk and ISO 10642 dk theoretical, from memory; k = d of socket heads; dk = 2.24 d up to M12
    heads = {"M3": 5.5, "M4": 7, "M5": 8.5, "M6": 10, "M8": 13, "M10": 16, "M12": 18, "M16": 24, "M20": 30, "M24": 36}
    flats = {"M3": 6.72, "M4": 8.96, "M5": 11.2, "M6": 13.44, "M8": 17.92, "M10": 22.4, "M12": 26.88, "M16": 33.6}
    for s in (s for s in screws.SCREWS if s.metric):
        fine, medium, coarse = s.clearance
        assert s.diameter < fine < medium < coarse
        if s.socket is not None:
            wide, high, recess, deep = s.socket
            assert high == s.diameter and recess > wide and deep > high
            assert wide == heads.get(s.name, wide)
        if s.flat is not None:
            assert s.flat == flats.get(s.name, s.flat)
            assert s.diameter > 12 or s.flat == pytest.approx(2.24 * s.diameter)


@pytest.mark.parametrize("wanted", ["H6", "H7", "H8", "H9", "H11"])
@pytest.mark.parametrize(
    "diameter", [2.0, 3.0, 3.001, 6.0, 10.0, 18.0, 25.0, 30.0, 30.0001, 50.0, 80.0, 120.0, 250.0, 500.0]
)
def test_limits_of_holes_agree_with_another_package(wanted, diameter):
    theirs = pressfit.fit(f"{wanted}/h6", diameter).hole_limits_mm  # pressfit 0.1.0, ISO 286-2
    assert fits.limits(diameter, wanted) == pytest.approx(theirs, abs=6e-5)


def test_classes_with_clearance_mirror_the_shafts_of_the_same_letter():
    # ISO 286-1: EI of a hole F or G is minus es of the shaft f or g
    for letter in ("F", "G"):
        grade = {"F": "F8", "G": "G7"}[letter]
        for diameter in (2.0, 5.0, 8.0, 15.0, 25.0, 40.0, 70.0, 100.0, 400.0):
            shaft = pressfit.fit(f"H7/{letter.lower()}6", diameter)
            assert fits.limits(diameter, grade)[0] - diameter == pytest.approx(-shaft.shaft_es_um / 1000, abs=1e-9)


def test_what_is_outside_the_tables_is_refused_with_what_there_is():
    with pytest.raises(UserFault, match="no class X7"):
        fits.limits(5.0, "X7")
    with pytest.raises(UserFault, match="no limits for 600 mm"):
        fits.limits(600.0, "H7")


def test_cores_leave_a_screw_something_to_form_its_thread_in():
    # common practice: 70 to 90 % of the screw's diameter
    assert all(0.7 <= share <= 0.9 for share in plastics.CORES.values())
    assert math.isclose(plastics.CORES["ABS"] * 3.0, 2.4)

"""Shared fixtures: an own cache for every test session, worker processes started once."""

import gc
import os
from pathlib import Path

for _name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"):
    os.environ[_name] = "1"

import pytest
from hypothesis import Phase, settings

# what fails is told at once: looking for a smaller example took minutes, and the same ones come again
settings.register_profile("steady", derandomize=True, deadline=None, phases=(Phase.explicit, Phase.generate))
settings.load_profile("steady")


@pytest.fixture(scope="session")
def store(tmp_path_factory):
    """A cache folder of this run; two halves of one run may be told to share theirs."""
    shared = os.environ.get("TESTS_SHARE_CACHE")
    folder = Path(shared) if shared else tmp_path_factory.mktemp("cache")
    os.environ["ARCHITECTONIC_CACHE"] = str(folder)
    os.environ["ARCHITECTONIC_STATE"] = str(tmp_path_factory.mktemp("state"))
    os.environ["ARCHITECTONIC_DATA"] = str(tmp_path_factory.mktemp("data"))
    return folder


@pytest.fixture(scope="session")
def engine(store):
    """Real worker processes."""
    from architectonic.session.open.engine import Engine

    made = Engine.start(store)
    yield made
    made.close()


@pytest.fixture(scope="session")
def demo():
    """The demo family."""
    from architectonic.demo.family import brindle

    made = brindle()
    gc.freeze()  # what lives until the end is not looked through again and again
    return made

"""A killed, crashed or hung worker costs one operation."""

import os
import random
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path

import msgspec
import pytest

from architectonic.base import stores
from architectonic.base.errors import EnvironmentFault
from architectonic.propagate.cache import ResultCache
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.targets import Look, all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.worker.client import WorkerPool
from architectonic.worker.process import end_idle
from architectonic.worker.protocol import Reply, Request, receive, send

pytestmark = pytest.mark.kernel


def in_one_size(family):
    """All documents as they are in the last size."""
    last = family.head.sizes[-1].id
    return [s for s in all_scopes(family) if s.configuration == last]


def test_killing_every_worker_in_mid_work_changes_nothing(demo, tmp_path):
    pool = WorkerPool(tmp_path, 2)
    evaluator = Evaluator(pool, ResultCache())
    killed = []

    def kill_once():
        deadline = time.monotonic() + 20
        while time.monotonic() < deadline and not killed:
            if any(True for _ in tmp_path.rglob("*")):  # the first shape is written: work is under way
                for pid in pool.processes():
                    os.kill(pid, signal.SIGKILL)
                    killed.append(pid)
            time.sleep(0.01)

    killer = threading.Thread(target=kill_once)
    killer.start()
    evaluation = evaluate_scopes(evaluator, demo, in_one_size(demo))
    killer.join()
    pool.close()
    assert killed
    assert not [o.problem for o in evaluation.outcomes.values() if o.problem]


def test_a_hung_worker_is_told_and_not_kept(demo, tmp_path):
    """A worker that computes too long is ended: an environment fault, which no cache keeps."""
    end_idle()  # a new process needs longer than that to load the kernel
    pool = WorkerPool(tmp_path, 1, limit=0.05)
    future = pool.submit("k", "measure", msgspec.msgpack.encode({}), ())
    with pytest.raises(EnvironmentFault, match="did not answer"):
        future.result(timeout=30)
    cache = ResultCache()
    evaluator = Evaluator(pool, cache)
    evaluation = evaluate_scopes(evaluator, demo, all_scopes(demo)[:9])
    assert any(o.problem and o.problem.code == "environment" for o in evaluation.outcomes.values())
    pool.close()
    good = WorkerPool(tmp_path, 1)
    evaluator.executor = good
    again = evaluate_scopes(evaluator, demo, all_scopes(demo)[:9])
    good.close()
    assert not [o.problem for o in again.outcomes.values() if o.problem]


def test_a_worker_that_is_stopped_is_replaced_while_others_go_on(tmp_path, monkeypatch):
    """In mid work, or before it: it computes nothing, and is held to hang."""
    monkeypatch.setattr("architectonic.base.processes.spent.STILL", 0.5)
    pool = WorkerPool(tmp_path, 1)
    pool.submit("k", "measure", msgspec.msgpack.encode({}), ()).result()
    (stopped,) = pool.processes()
    os.kill(stopped, signal.SIGSTOP)
    big = msgspec.msgpack.encode({"a": "b" * 3_000_000})  # more than a pipe holds: it stands still in mid message
    reply = pool.submit("k2", "measure", big, ()).result()
    assert reply.defect and pool.processes() != [stopped]
    pool.close()


def test_no_worker_outlives_who_started_it(tmp_path):
    """Killed in mid work, without a chance to say goodbye."""
    program = (
        "import sys, time, msgspec\nfrom pathlib import Path\nfrom architectonic.worker.client import WorkerPool\n"
        "pool = WorkerPool(Path(sys.argv[1]), 2)\n"
        "waits = [pool.submit(str(k), 'measure', msgspec.msgpack.encode({}), ()) for k in range(4)]\n"
        "[w.result() for w in waits]\nprint(*pool.processes(), flush=True)\ntime.sleep(600)"
    )
    parent = subprocess.Popen([sys.executable, "-c", program, str(tmp_path)], stdout=subprocess.PIPE)
    workers = [int(n) for n in parent.stdout.readline().split()]
    assert len(workers) == 2
    os.kill(workers[0], signal.SIGSTOP)  # not even one that looks at no pipe
    parent.kill()
    parent.communicate()
    while any(alive(w) for w in workers):  # the machine ends them; a test that hangs here has found one
        time.sleep(0.02)


def alive(pid):
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] not in "ZX"
    except OSError:
        return False


def test_a_shape_lost_from_the_store_is_made_again(demo, tmp_path):
    import shutil

    cache = ResultCache()
    for _ in range(2):
        pool = WorkerPool(tmp_path, 1)
        evaluator = Evaluator(pool, cache)
        scopes = [s for s in in_one_size(demo) if demo.documents[s.document].name in ("Foot", "Stand")]
        evaluation = evaluate_scopes(evaluator, demo, scopes, meshes=(Look(scopes[-1]),))
        assert not [o.problem for o in evaluation.outcomes.values() if o.problem]
        pool.close()
        end_idle()  # what it has in memory is gone as well
        shutil.rmtree(tmp_path / "shapes")
        for key in [k for k, m in cache._memory.items() if isinstance(m.value, dict)]:
            del cache._memory[key]  # measurements and meshes must be asked for again


def test_a_store_whose_bits_have_flipped_is_believed_in_nothing(demo, tmp_path):
    """One bit of every file of the store, anywhere in it: all is made again, and comes out the same."""
    scopes, draw = (
        [s for s in in_one_size(demo) if demo.documents[s.document].name in ("Cheek L", "Elbow", "Arm tube")],
        random.Random(7),
    )

    def figures():
        pool = WorkerPool(tmp_path, 1)
        found = evaluate_scopes(Evaluator(pool, ResultCache(tmp_path)), demo, scopes)
        pool.close()
        end_idle()
        assert not [o.problem for o in found.outcomes.values() if o.problem]
        return {n: o.value for n, o in found.outcomes.items() if n.what in ("measure", "mass", "state")}, found.work

    first, _ = figures()
    again, work = figures()
    assert again == first and work.kernel_seconds == 0
    files = [f for part in stores.PARTS for f in (tmp_path / part).rglob("*") if f.is_file()]
    for file in files:
        data = bytearray(file.read_bytes())
        data[draw.randrange(len(data))] ^= 1 << draw.randrange(8)
        file.write_bytes(data)
    assert files and figures()[0] == first
    files[0].rename(files[1])  # whole, but under another key
    assert stores.read(files[1], files[1].name) is None and not files[1].exists()


@pytest.mark.parametrize("place", ["file", "/proc/nowhere", "/dev/full/store"])
def test_a_store_that_takes_nothing_costs_time_and_no_build(demo, tmp_path, place):
    """No folder can be made there, whoever asks: shapes go to a folder of this run."""
    store = tmp_path / "file" if place == "file" else Path(place)
    if place == "file":
        store.write_text("mine")
    scopes = [s for s in in_one_size(demo) if demo.documents[s.document].name in ("Cheek L", "Elbow", "Arm tube")]
    pool = WorkerPool(store, 2)
    found = evaluate_scopes(Evaluator(pool, ResultCache(store)), demo, scopes)
    pool.close()
    assert not [o.problem for o in found.outcomes.values() if o.problem]
    assert place != "file" or store.read_text() == "mine"


def test_folders_of_killed_runs_are_cleared_by_the_next(tmp_path, monkeypatch):
    monkeypatch.setenv("TMPDIR", str(tmp_path))
    program = (
        "import os\nfrom architectonic.base.processes import scratch\nscratch.place('shapes').joinpath('x').write_text('x')\n"
        "os.kill(os.getpid(), 9)"
    )
    subprocess.run([sys.executable, "-c", program], check=False)
    (left,) = tmp_path.iterdir()
    other = tmp_path / "architectonic-1-1-1-else"
    other.mkdir()  # of another space of numbers: nothing is known of it
    subprocess.run([sys.executable, "-c", program.split("os.kill")[0]], check=True)
    assert not left.exists() and list(tmp_path.iterdir()) == [other]


def test_messages_survive_the_pipe():
    read, write = os.pipe()
    message = Request("k" * 40, "extrude", msgspec.Raw(b"\x81\xa1a\x01"), ("s.b",), "store")
    with os.fdopen(write, "wb") as out, os.fdopen(read, "rb") as back:
        send(out, message)
        out.close()
        assert msgspec.msgpack.decode(receive(back), type=Request) == message
        assert receive(back) is None
    assert msgspec.msgpack.decode(msgspec.msgpack.encode(Reply(defect="x")), type=Reply).defect == "x"


def test_processes_stay_warm_for_the_next_pool_and_never_answer_from_another_store(demo, tmp_path):
    """A pool that is closed leaves its processes; the next one finds nothing there of what the first has made."""
    end_idle()
    scopes = all_scopes(demo)[:9]
    seen = []
    for name in ("one", "two"):
        pool = WorkerPool(tmp_path / name, 1)
        evaluation = evaluate_scopes(Evaluator(pool, ResultCache()), demo, scopes)
        seen.append(
            (pool.processes()[0], {n: o.value for n, o in evaluation.outcomes.items()}, evaluation.work.computed)
        )
        pool.close()
    assert seen[0] == seen[1]
    end_idle()
    fresh = WorkerPool(tmp_path / "three", 1)
    fresh.warm()
    while not fresh.processes():
        time.sleep(0.01)
    assert fresh.processes()[0] != seen[0][0]
    fresh.close()

"""Who has a folder open; what is no such file, or is of the dead, deceives nobody."""

import os
import subprocess
import sys
import time

from architectonic.base.processes import claims
from architectonic.exchange.presence import PREFIX, Presence

LIVES = """
import sys, time
from pathlib import Path
from architectonic.exchange.presence import Presence
Presence(Path(sys.argv[1])).say()
print("here", flush=True)
time.sleep(600)
"""


def test_two_windows_see_each_other_until_one_leaves_or_is_killed(tmp_path):
    mine = Presence(tmp_path)
    mine.say()
    assert mine.others() == []
    other = subprocess.Popen([sys.executable, "-c", LIVES, str(tmp_path)], stdout=subprocess.PIPE)
    assert other.stdout.readline() == b"here\n"
    (found,) = mine.others()
    assert found.pid == other.pid and found.host == claims.mine().host and found.since <= time.time()
    other.kill()
    other.communicate()
    assert mine.others() == []
    assert len(list(tmp_path.glob(f"{PREFIX}*"))) == 1  # what the dead one left is gone
    mine.leave()
    assert list(tmp_path.iterdir()) == []


def test_one_of_another_machine_lives_as_long_as_it_says_so(tmp_path):
    mine, there = Presence(tmp_path), tmp_path / f"{PREFIX}there"
    there.write_bytes(b'{"host":"far","boot":"b","pid":7,"started":1,"user":"anna","since":1.0}')
    assert [c.user for c in mine.others()] == ["anna"]
    long_ago = time.time() - claims.SILENT - 1
    os.utime(there, (long_ago, long_ago))
    assert mine.others() == [] and there.exists()  # it may come back


def test_what_is_no_such_file_is_passed_over(tmp_path):
    (tmp_path / f"{PREFIX}a").write_bytes(b"\xff\x00")
    (tmp_path / f"{PREFIX}b").write_bytes(b"[" * 100_000)
    (tmp_path / f"{PREFIX}c").mkdir()
    os.mkfifo(tmp_path / f"{PREFIX}d")
    (tmp_path / f"{PREFIX}e").symlink_to("/dev/zero")
    assert Presence(tmp_path).others() == []


def test_a_number_that_is_given_away_again_deceives_nobody():
    here = claims.mine()
    assert claims.is_alive(here, 0.0)
    assert not claims.is_alive(claims.Claim(here.host, here.boot, here.pid, here.started + 1, "", 0.0), time.time())
    assert not claims.is_alive(claims.Claim(here.host, "before the last start", here.pid, here.started, "", 0.0), 0.0)

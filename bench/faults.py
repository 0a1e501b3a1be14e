"""What is promised when things go wrong, attacked: saves that are killed, writers that meet, workers that die, stores that are
damaged, families and files that mean harm, disks that are full, hands that press anything.

Each attack gives its figures as a dictionary: how much was tried, and how often something was lost, torn, hung, or ended in a
traceback, all of which ought to be 0.
"""

from __future__ import annotations

import contextlib
import copy
import errno
import fcntl
import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
import traceback
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.exchange import folder
from architectonic.family import edits
from architectonic.family.records import Family

Figures = dict[str, int]
MOST_SECONDS = 60
"""After so long one case is held to hang."""


_patience = [MOST_SECONDS]


@contextlib.contextmanager
def patient(seconds: int) -> Iterator[None]:
    """Cases may take longer meanwhile, as those that are ended by a limit of their own."""
    _patience.append(seconds)
    try:
        yield
    finally:
        _patience.pop()


class Hung(BaseException):
    """A case took too long."""


@contextlib.contextmanager
def judged(figures: Figures, told: Callable[[], str] = lambda: "") -> Iterator[None]:
    """One case: a refusal is what is wanted; anything else that is raised is a defect, and is shown."""

    def hangs(*_: object) -> None:
        raise Hung

    before = signal.signal(signal.SIGALRM, hangs)
    signal.alarm(_patience[-1])
    figures["tried"] = figures.get("tried", 0) + 1
    try:
        yield
    except (UserFault, EnvironmentFault) as fault:
        words = getattr(fault, "sentence", str(fault))
        figures["refused"] = figures.get("refused", 0) + 1
        if not words or "\n" in words:
            figures["not one sentence"] = figures.get("not one sentence", 0) + 1
            print("not one sentence:", repr(words)[:300], told())
    except Hung:
        figures["hung"] = figures.get("hung", 0) + 1
        print("hung:", told())
    except Exception as defect:  # that is what is looked for
        figures["tracebacks"] = figures.get("tracebacks", 0) + 1
        last = traceback.extract_tb(defect.__traceback__)[-1]
        where = f"{Path(last.filename).name}:{last.lineno} {last.name}"
        print(f"{type(defect).__name__}: {str(defect)[:200]} ({where})", told())
    finally:
        signal.alarm(0)
        signal.signal(signal.SIGALRM, before)


# --- saving ---------------------------------------------------------------------------------------------


def pair() -> Family:
    """Two tables whose `n` every save changes together, and one that both writers count in."""
    family = edits.new_family("Pair")
    for name in ("A one", "A two", "B one", "B two", "Both"):
        family, key = edits.add_document(family, "table", name)
        family = edits.add_parameter(family, key, "n", "0")
    return family


def number(family: Family, name: str) -> int:
    """What `n` says in a table."""
    return int(edits.find_document(family, name).parameters[0].common.text.split()[0])


def with_number(family: Family, name: str, value: int) -> Family:
    """It says another number."""
    document = edits.find_document(family, name)
    return edits.set_value(family, document.id, document.parameters[0].id, str(value))


def write(place: Path, who: str, count: int, told: Callable[[str], object] = print) -> None:
    """Save as fast as it goes: both tables of one writer together, and one count in the table that both count in."""
    stored = folder.load(place)
    for k in range(1, count + 1):
        stored = _saved(stored, lambda f, k=k: with_number(with_number(f, f"{who} one", k), f"{who} two", k), told)
        stored = _saved(stored, lambda f: with_number(f, "Both", number(f, "Both") + 1), told)
        told(f"saved {k}")


def _saved(stored: folder.Stored, edit: Callable[[Family], Family], told: Callable[[str], object]) -> folder.Stored:
    while True:
        try:
            return folder.save(stored, edit(stored.family))
        except UserFault as fault:
            if "Both" not in fault.sentence:
                told(f"refused wrongly {fault.sentence}")
            stored = folder.load(stored.folder)


@contextlib.contextmanager
def without_locks() -> Iterator[None]:
    """As on a file system that knows no locks."""
    real = fcntl.flock

    def unknown(*_: object) -> None:
        raise OSError(errno.ENOLCK, os.strerror(errno.ENOLCK))

    fcntl.flock = unknown
    try:
        yield
    finally:
        fcntl.flock = real


def writers(count: int = 2500, locks: bool = True) -> Figures:
    """Two processes that save, each `2 * count` times, and one that reads: none lost, none mixed, no false refusal.

    Args:
        locks: False as on a file system that knows none.
    """
    with contextlib.nullcontext() if locks else without_locks():
        return _writers(count, locks)


def writers_without_locks() -> Figures:
    """The same, where there are no locks."""
    return writers(500, locks=False)


def _writers(count: int, locks: bool) -> Figures:
    figures = {"saves": 4 * count, "lost": 0, "mixed": 0, "false refusals": 0, "tracebacks": 0, "reads": 0}
    with tempfile.TemporaryDirectory() as scratch:
        place = Path(scratch) / "family"
        folder.save(folder.Stored(place, Family(head=pair().head), {}), pair())
        command = [sys.executable, "-m", "bench.faults", "write" if locks else "write without locks", str(place)]
        running = [
            subprocess.Popen([*command, who, str(count)], stdout=subprocess.PIPE, text=True, stderr=subprocess.PIPE)
            for who in "AB"
        ]
        outputs: list[tuple[str, str]] = []
        while any(p.poll() is None for p in running):
            family = folder.load(place).family
            figures["reads"] += 1
            figures["mixed"] += any(number(family, f"{w} one") != number(family, f"{w} two") for w in "AB")
            if figures["reads"] % 20 == 0:
                time.sleep(0.01)
        outputs = [p.communicate() for p in running]
        for out, err in outputs:
            figures["false refusals"] += out.count("refused wrongly")
            figures["tracebacks"] += "Traceback" in err
            if err:
                print(err[-500:])
        family = folder.load(place).family
        figures["lost"] += 2 * count - number(family, "Both")
        figures["lost"] += sum(count - number(family, f"{w} two") for w in "AB")
    return figures


def kills(count: int = 1000, seed: int = 1) -> Figures:
    """A process is killed at a random instant of saving: what it said was saved is there, and whole."""
    figures, draw = {"kills": count, "lost": 0, "torn": 0, "in mid save": 0}, random.Random(seed)
    with tempfile.TemporaryDirectory() as scratch:
        place = Path(scratch) / "family"
        family = pair()
        folder.save(folder.Stored(place, Family(head=family.head), {}), family)
        last = 0
        for _ in range(count):
            read, said = os.pipe()
            child = os.fork()
            if child == 0:  # pragma: no cover
                with contextlib.suppress(BaseException):
                    stored = folder.load(place)
                    for k in range(last + 1, last + 1000):
                        stored = folder.save(stored, with_number(with_number(stored.family, "A one", k), "A two", k))
                        os.write(said, f"{k}\n".encode())
                os._exit(1)
            os.close(said)
            time.sleep(draw.uniform(0.002, 0.03))
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
            with os.fdopen(read) as heard:
                lines = [int(n) for n in heard.read().split()]
            figures["in mid save"] += any(place.glob("*.part")) or (place / folder.RECORD).exists()
            now = folder.load(place).family
            one, two = number(now, "A one"), number(now, "A two")
            figures["torn"] += one != two
            figures["lost"] += one < (lines[-1] if lines else last)
            last = one
    return figures


def full_disks(most: int = 40) -> Figures:
    """Every write of saving, saving elsewhere and keeping edits fails in turn, for want of room or of the right to write."""
    from architectonic.base import files, stores
    from architectonic.session.open.session import Session

    figures: Figures = {"torn": 0, "tracebacks": 0}
    steps = [
        (files, "write"),
        (stores, "write"),
        (Path, "replace"),
        (Path, "unlink"),
        (Path, "mkdir"),
        (Path, "write_bytes"),
    ]
    for code in (28, 30):
        for stop in range(1, most):
            with tempfile.TemporaryDirectory() as scratch:
                session = Session.create(Path(scratch) / "family", pair(), None, Path(scratch) / "state")
                old, count = session.family, [0]
                session.apply("n", lambda f: with_number(with_number(f, "A one", 7), "A two", 7))
                new = session.family

                def failing(
                    real: Callable[..., Any], stop: int = stop, count: list[int] = count, code: int = code
                ) -> Any:
                    def call(*arguments: Any, **more: Any) -> Any:
                        count[0] += 1
                        if count[0] >= stop:
                            raise OSError(code, os.strerror(code))
                        return real(*arguments, **more)

                    return call

                real = [(owner, name, getattr(owner, name)) for owner, name in steps]
                for owner, name, was in real:
                    setattr(owner, name, failing(was))
                try:
                    for act in (
                        session.save,
                        lambda s=session: s.apply("m", lambda f: with_number(f, "Both", 3)),
                        lambda s=session, p=Path(scratch): s.save_as(p / "elsewhere"),
                    ):
                        with judged(figures, lambda stop=stop, code=code: f"stop {stop}, code {code}"):
                            act()
                finally:
                    for owner, name, was in real:
                        setattr(owner, name, was)
                now = folder.load(Path(scratch) / "family").family
                figures["torn"] += now not in (old, new) or number(now, "A one") != number(now, "A two")
    return figures


# --- stores and workers -----------------------------------------------------------------------------------


def damaged_stores(count: int = 2000, seed: int = 1) -> Figures:
    """Files of a store are damaged in any way: each is dropped, or is what it was."""
    from architectonic.base import stores

    figures, draw = {"damages": count, "believed": 0, "tracebacks": 0}, random.Random(seed)
    with tempfile.TemporaryDirectory() as scratch:
        known = {f"{k:040x}": draw.randbytes(draw.randrange(0, 4000)) for k in range(50)}
        for _ in range(count):
            key = draw.choice(list(known))
            path = Path(scratch) / "results" / key[:2] / key
            stores.write(path, key, known[key])
            data = bytearray(path.read_bytes())
            match draw.randrange(5):
                case 0:
                    data[draw.randrange(len(data))] ^= 1 << draw.randrange(8)
                case 1:
                    del data[draw.randrange(len(data)) :]
                case 2:
                    data += draw.randbytes(draw.randrange(1, 50))
                case 3:
                    data = bytearray(stores.sealed("another", known[key]))
                case _:
                    data = bytearray(draw.randbytes(len(data)))
            path.write_bytes(data)
            with judged(figures):
                found = stores.read(path, key)
                figures["believed"] += found is not None and found != known[key]
                figures["believed"] += found is None and path.exists()
    return figures


def worker_deaths(count: int = 1000, seed: int = 1) -> Figures:
    """Workers are killed in mid work: all is built, or is told; nobody waits for ever."""
    import architectonic as a

    figures, draw = {"deaths": 0, "told": 0, "built": 0, "wrong": 0}, random.Random(seed)
    with tempfile.TemporaryDirectory() as scratch, a.new("Deaths", store=Path(scratch)) as opened:
        part = opened.part("Block")
        part.parameter("long", "20 mm")
        outline = part.sketch("Outline")
        outline.rectangle("long", "30 mm")
        part.extrude(make="Block", regions=outline.region(), far="10 mm")
        step = 0
        while figures["deaths"] < count:
            step += 1
            from architectonic.session.open.whatif import with_values

            family = with_values(opened.family, [f"Block.long={20 + step / 1000} mm"])
            for pid in opened.engine.pool.processes():
                if draw.random() < 0.7:
                    with contextlib.suppress(ProcessLookupError):
                        os.kill(pid, draw.choice((signal.SIGKILL, signal.SIGSEGV, signal.SIGTERM)))
                    figures["deaths"] += 1
            found = opened.session.evaluate(family=family)
            problems = [o.problem for o in found.outcomes.values() if o.problem and o.problem.code == "environment"]
            figures["told"] += bool(problems)
            volume = next(
                (o.value["volume_mm3"] for n, o in found.outcomes.items() if n.what == "measure" and o.value), None
            )
            if not problems:
                figures["built"] += 1
                figures["wrong"] += volume is None or abs(volume - (20 + step / 1000) * 300) > 1e-6
    return figures


def growth(count: int = 300, seed: int = 1) -> Figures:
    """Many edits in a row, each undone by nobody: what this process, the workers and the disk hold after a tenth of them, and
    after all, MB."""
    from architectonic.base.errors import ArchitectonicError
    from architectonic.demo.family import write as write_demo
    from architectonic.session.open.engine import Engine
    from architectonic.session.open.whatif import with_values

    figures, draw = {"edits": 0, "refused": 0}, random.Random(seed)
    with tempfile.TemporaryDirectory() as scratch:
        engine = Engine.start(Path(scratch) / "cache")
        session = write_demo(Path(scratch) / "family", engine.evaluator, Path(scratch) / "state")
        session.evaluate()
        for k in range(count):
            size = draw.choice([s.name for s in session.family.head.sizes])
            value = draw.choice((f"wall@{size}={2 + draw.random():.3f} mm", f"rim@{size}={4 + draw.random():.3f} mm"))
            try:
                session.apply(value, lambda f, v=value: with_values(f, [f"Sizes.{v}"]))
                session.evaluate()
                figures["edits"] += 1
            except ArchitectonicError:
                figures["refused"] += 1
            if k + 1 in (count // 10, count):
                at = "early" if k + 1 == count // 10 else "late"
                figures[f"MB here {at}"] = _resident(os.getpid())
                figures[f"MB in workers {at}"] = sum(_resident(p) for p in engine.pool.processes())
                files = [f for f in (Path(scratch) / "cache").rglob("*") if f.is_file()]
                figures[f"MB on disk {at}"] = round(sum(f.stat().st_size for f in files) / 1e6)
        session.end()
        engine.close()
    return figures


def _resident(process: int) -> int:
    """What a process holds in memory, MB."""
    pages = int(Path(f"/proc/{process}/statm").read_text().split()[1])
    return round(pages * os.sysconf("SC_PAGE_SIZE") / 1e6)


# --- what others send ---------------------------------------------------------------------------------------

ODD: tuple[Any, ...] = (
    None, True, 0, -1, 1e308, -0.0, 10**30, "", "self", "\x00", "\ud800", "ä" * 5000, "../../x", [], {}, [[]], {"kind": "part"},
    "1 mm^1e999", "((((" * 400, ["a", "a"], {"": ""}, "default",
)  # fmt: skip


def mutated(record: Any, draw: random.Random) -> Any:
    """A document of which one thing says something else: another kind of value, an id of something else, one more or less."""
    record = json.loads(json.dumps(record))
    places: list[tuple[Any, Any]] = []
    texts: list[str] = []

    def walk(value: Any) -> None:
        for key, inner in value.items() if isinstance(value, dict) else enumerate(value):
            places.append((value, key))
            if isinstance(inner, str):
                texts.append(inner)
            if isinstance(inner, (dict, list)):
                walk(inner)

    walk(record)
    for _ in range(draw.choice((1, 1, 1, 2, 4))):
        holder, key = draw.choice(places)
        if isinstance(holder, list) and (not isinstance(key, int) or key >= len(holder)):
            continue
        if isinstance(holder, dict) and key not in holder:
            continue
        match draw.randrange(6):
            case 0:
                holder[key] = draw.choice(ODD)
            case 1:
                holder[key] = draw.choice(texts)
            case 2:
                del holder[key]
            case 3 if isinstance(holder, list):
                holder.append(holder[key])
            case 4:
                deep: Any = 0
                for _ in range(draw.choice((10, 200))):
                    deep = [deep]
                holder[key] = deep
            case _:
                other, at = draw.choice(places)
                with contextlib.suppress(KeyError, IndexError, TypeError):
                    holder[key] = copy.deepcopy(other[at])
    return record


def families(count: int = 5000, seed: int = 1) -> Figures:
    """Documents of a family say something else: it is refused in a sentence, or opened, evaluated, told of and compared."""
    from architectonic.check.attention import attention
    from architectonic.check.impact import impact
    from architectonic.demo.family import brindle
    from architectonic.family import codec
    from architectonic.family.graph.static import Graph
    from architectonic.family.walk import items
    from architectonic.propagate.evaluator import Evaluator
    from architectonic.propagate.ports import NoExecutor
    from architectonic.propagate.targets import all_scopes
    from architectonic.propagate.whole import evaluate_scopes

    figures: Figures = {"tracebacks": 0, "opened": 0}
    draw, family = random.Random(seed), brindle()
    evaluator = Evaluator(NoExecutor())
    scopes = all_scopes(family)
    before = evaluate_scopes(evaluator, family, scopes)
    written = {key: json.loads(codec.encode(d)) for key, d in family.documents.items()}
    head = json.loads(codec.encode(family.head))
    for case in range(count):
        key = draw.choice(["", *written])
        with judged(figures, lambda case=case, key=key: f"case {case} of seed {seed}, document {key}"):
            data = json.dumps(mutated(written.get(key, head), draw)).encode("utf-8", "surrogatepass")
            if key:
                document = codec.decode_document(data, "x.json")
                documents = {**{k: d for k, d in family.documents.items() if k != key}, document.id: document}
                changed = Family(head=family.head, documents=documents)
            else:
                changed = Family(head=codec.decode_head(data, "family.json"), documents=family.documents)
            figures["opened"] += 1
            Graph(changed).circle()
            for document in changed.documents.values():
                list(items(document))
            some = [at for at in all_scopes(changed) if draw.random() < 0.3]
            after = evaluate_scopes(evaluator, changed, some)
            attention(after)
            impact(before, after)
    return figures


def expressions(count: int = 5000, seed: int = 1) -> Figures:
    """Texts that mean harm, typed as values."""
    from architectonic.family import names

    figures: Figures = {"tracebacks": 0}
    draw = random.Random(seed)
    family, key = edits.add_document(edits.new_family("F"), "table", "T")
    for name, text in (("a", "3 mm"), ("b", "0"), ("c", "-8"), ("d", "7 mm")):
        family = edits.add_parameter(family, key, name, text)
    document = family.documents[key]
    pieces = [
        "a", "b", "c", "d", "0", "1", "-1", "1e308", "1e999", "0.5", "mm", "in", "deg", "kg", "+", "-", "*", "/", "^", "^0.5",
        "(", ")", "sqrt(", "sin(", "tan(", "atan2(", "min(", "max(", "pick(", "hypot(", "round(", "floor(", ",", ">", "<=", "==",
        "and", "or", "not", " ", "  ", "\n", "\x00", "é", "½", "²", "√", "'", '"', "parent.", "T.", "T.a", "3/8 in", "1,5", "…",
        "\u202e", "\ud800", "a" * 300, "(" * 60, "9" * 400, "%", "&", ";", "lambda", "__import__", "{", "}", "[0]", "2 mm^1e999",
        "sin((-8)^0.5)", "(-8)^(1/3)", "1e308*10", "tan(90 deg)",
    ]  # fmt: skip

    def formed(depth: int) -> str:
        """A text that is put together as one should be, whatever it comes to."""
        if depth <= 0 or draw.random() < 0.2:
            return draw.choice(
                ("a", "b", "c", "d", "0", "2", "-3", "1e308", "0.5", "4 mm", "0 mm", "90 deg", "-1e-308 mm", "1e200 mm")
            )
        inner = [formed(depth - draw.randrange(1, 3)) for _ in range(3)]
        return draw.choice((
            "({0} {o} {1})", "sqrt({0})", "sin({0})", "tan({0})", "atan2({0}, {1})", "min({0}, {1}, {2})", "hypot({0}, {1})",
            "pick({0} > {1}, {1}, {2})", "round({0})", "-{0}", "({0}) ^ ({1})", "abs({0})", "floor({0} / {1})",
        )).format(*inner, o=draw.choice("+-*/^"))  # fmt: skip

    for _ in range(count):
        loose = "".join(draw.choice(pieces) for _ in range(draw.randrange(1, 14)))
        text = loose if draw.random() < 0.4 else formed(draw.randrange(1, 9))
        quantity, unit = draw.choice((("length", "mm"), ("angle", "deg"), ("number", ""), ("mass", "kg")))
        with judged(figures, lambda text=text: repr(text)[:200]):
            names.bind_quantity(family, document, text, quantity, unit)
            changed = edits.set_value(family, key, document.parameters[0].id, text)
            _figures_of(changed)
    return figures


def _figures_of(family: Family) -> None:
    from architectonic.propagate.targets import all_scopes, of_scope
    from architectonic.session.open.queries import numbers

    numbers(family, [n for at in all_scopes(family) for n in of_scope(family, at)])


def hostile_files(count: int = 200, seed: int = 1) -> Figures:
    """Files that mean harm, each kind once, then whole and hostile ones that are damaged: each is read, or is one sentence."""
    from architectonic.exchange import apart
    from architectonic.session.files import outside
    from architectonic.session.open.engine import Engine
    from bench.hostile import hostile, mutated, small

    figures, draw = {"tracebacks": 0, "hung": 0}, random.Random(seed)
    read: dict[str, Callable[[Path], object]] = {
        "spreadsheet": apart.spreadsheet, "drawing": apart.drawing, "picture": apart.picture, "bodies": outside.look,
    }  # fmt: skip
    with tempfile.TemporaryDirectory() as scratch, patient(7 * MOST_SECONDS):
        engine = Engine.start(Path(scratch) / "cache")
        known: list[tuple[str, str, bytes]] = []
        for name, kind, path in hostile(Path(scratch), draw):
            with judged(figures, lambda name=name: name):
                read[kind](path)
            known.append((kind, path.suffix, path.read_bytes()))
        known += [(kind, ending, data) for (kind, ending), data in small().items() for _ in range(3)]
        damaged = [k for k in known if len(k[2]) < 1_000_000]
        for case in range(figures["tried"], count):
            kind, ending, data = draw.choice(damaged)
            path = Path(scratch) / f"damaged{case}{ending}"
            path.write_bytes(mutated(data, draw))
            with judged(figures, lambda case=case, ending=ending: f"case {case} of seed {seed}{ending}"):
                read[kind](path)
        engine.close()
    return figures


def told(name: str, figures: Figures, seconds: float) -> None:
    """One line."""
    print(f"{name:16} {', '.join(f'{v} {k}' for k, v in figures.items())}; {seconds:.0f} s")


def faults() -> None:
    """Everything, as often as is promised."""
    for run in (
        kills,
        writers,
        writers_without_locks,
        full_disks,
        damaged_stores,
        expressions,
        families,
        hostile_files,
        worker_deaths,
        growth,
    ):
        started = time.perf_counter()
        figures = run()
        told(run.__name__, figures, time.perf_counter() - started)


if __name__ == "__main__":
    with without_locks() if sys.argv[1] == "write without locks" else contextlib.nullcontext():
        write(Path(sys.argv[2]), sys.argv[3], int(sys.argv[4]))

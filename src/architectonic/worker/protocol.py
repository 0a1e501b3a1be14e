"""Messages between the window's process and workers: length-prefixed msgpack on the worker's pipes.

Shapes never cross: they are named by key, and all workers share one folder of them. A worker keeps recent ones.
"""

from __future__ import annotations

from pathlib import Path
from typing import IO

import msgspec

from architectonic.base.problem import Problem
from architectonic.base.processes.pipes import HEAD, packed


class Request(msgspec.Struct, frozen=True):
    """Work for a worker: a recipe by key, the folder that shapes live in, and those with kept files (base.kept).

    Attributes:
        spare: the folder of shapes for which there is no room in the other; "" for none.
    """

    key: str
    kind: str
    payload: msgspec.Raw
    shapes: tuple[str, ...]
    store: str
    kept: tuple[str, ...] = ()
    spare: str = ""


class Reply(msgspec.Struct, frozen=True, omit_defaults=True):
    """What came of it.

    Attributes:
        value: the result, encoded.
        problem: the model cannot be made so.
        lost: key of a shape that is not in the store; make it again and ask again.
        defect: the program or the machine failed; never cached.
    """

    value: msgspec.Raw = msgspec.Raw(b"\xc0")
    problem: Problem | None = None
    lost: str = ""
    defect: str = ""
    seconds: float = 0.0


def send(stream: IO[bytes], message: Request | Reply) -> None:
    """Write one message."""
    stream.write(packed(msgspec.msgpack.encode(message)))
    stream.flush()


def receive(stream: IO[bytes]) -> bytes | None:
    """Read one message; None at the end of the stream."""
    head = stream.read(HEAD.size)
    if len(head) < HEAD.size:
        return None
    (length,) = HEAD.unpack(head)
    data = stream.read(length)
    return data if len(data) == length else None


def shape_path(store: Path, key: str) -> Path:
    """File of a shape in the shared folder."""
    return store / "shapes" / key[:2] / key

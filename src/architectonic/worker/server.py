"""A worker process: reads requests, makes them with the kernel, replies. Started by worker.client."""

from __future__ import annotations

import os
import sys
import time
import traceback
from pathlib import Path
from typing import Any

import msgspec

from architectonic.base import kept
from architectonic.base.processes.spent import end_with_parent
from architectonic.make.fault import MakeFault
from architectonic.make.registry import MAKERS
from architectonic.worker.protocol import Reply, Request, receive, send
from architectonic.worker.shapes import ShapeLost, Shapes


def handle(request: Request, shapes: Shapes) -> Reply:
    """Make one recipe; faults of the model become problems, all others defects."""
    started = time.perf_counter()
    maker = MAKERS[request.kind]
    try:
        store = Path(request.store)
        kept.told(request.kept)
        shapes.spare = Path(request.spare) if request.spare else None
        given: Any = msgspec.msgpack.decode(request.payload, type=maker.input)
        value, made = maker.function(given, [shapes.get(store, key) for key in request.shapes])
        for body, shape in made.items():
            shapes.put(store, f"{request.key}.{body}", shape)
    except ShapeLost as lost:
        return Reply(lost=lost.key)
    except MakeFault as fault:
        return Reply(problem=fault.problem, seconds=time.perf_counter() - started)
    except Exception as defect:  # the loop must live; the text goes to the person and to the log
        traceback.print_exc()
        return Reply(defect=f"{type(defect).__name__}: {defect}", seconds=time.perf_counter() - started)
    return Reply(value=msgspec.Raw(msgspec.msgpack.encode(value)), seconds=time.perf_counter() - started)


def main() -> None:
    """Serve until the other side closes the pipe."""
    end_with_parent()
    replies = os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)  # whatever the kernel prints goes to standard error
    requests = sys.stdin.buffer
    shapes = Shapes()
    while (data := receive(requests)) is not None:
        send(replies, handle(msgspec.msgpack.decode(data, type=Request), shapes))


if __name__ == "__main__":
    main()

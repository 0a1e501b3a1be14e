"""What the feeds of a document hold, as things that stand in it: to be seen, picked and traced like its own."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.describe.drawn.curves import as_piece_of
from architectonic.describe.drawn.readings import samples
from architectonic.describe.results import Axis, Frame, Node, PlacedCurve, PlacedRegion, Spot
from architectonic.describe.space.leads import Led
from architectonic.describe.words.sentences import fed
from architectonic.family.records import Model, Socket
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation

FedValue = PlacedRegion | PlacedCurve | Axis | Frame | Spot | Led


class FedThing(NamedTuple):
    """What one socket holds.

    Attributes:
        id: of the socket, as a reference names it; feed: of its feed.
        socket: what it takes, and from where; gives: what a sentence can take it as (Accepts.drawn).
        value: where it stands now.
    """

    id: str
    feed: str
    name: str
    socket: Socket
    gives: str
    value: FedValue


def held(evaluation: Evaluation, at: Scope) -> list[FedThing]:
    """Regions, curves, paths, lines, planes and points that a document is fed, in the order of its feeds.

    Layouts taken whole stand behind the document and sections are bodies; neither is among them, nor is what is lost.
    """
    document = evaluation.family.documents.get(at.document)
    found: list[FedThing] = []
    for key, feed in document.feeds.items() if isinstance(document, Model) else ():
        for socket, record in feed.sockets.items():
            value = evaluation.value(Node("socket", at, socket))
            gives = next((word for kind, word in GIVES if isinstance(value, kind)), "")
            if gives:
                assert isinstance(value, FedValue)
                name = f"{fed(evaluation.family, record)}, {feed.name}"
                found.append(FedThing(socket, key, name, record, gives, value))
    return found


def outlines(value: PlacedCurve | PlacedRegion) -> list[list[tuple[float, float]]]:
    """Points along what is fed, in its plane, mm: one line for a curve, one for each side of a region."""
    if isinstance(value, PlacedCurve):
        return [samples(value.curve)]
    return [as_piece_of(p).points(2.5) for loop in value.region.loops for p in loop]


GIVES: tuple[tuple[type, str], ...] = (
    (PlacedRegion, "region"),
    (PlacedCurve, "curve"),
    (Axis, "axis"),
    (Frame, "plane"),
    (Spot, "point"),
    (Led, "path"),
)
"""What the value of a socket can be taken as."""

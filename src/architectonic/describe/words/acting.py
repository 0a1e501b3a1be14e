"""Blanks that say what something does: bodies, verbs, and how far it goes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from architectonic.base.ids import IdSource
from architectonic.describe.words import candidates
from architectonic.describe.words.accepts import Accepts, accepting
from architectonic.describe.words.blanks import Blank, Telling
from architectonic.describe.words.candidates import Choosing, Named
from architectonic.describe.words.sentences import bodies, target, text
from architectonic.family import edits, names
from architectonic.family.operations.solids.extrude import Distance, Symmetric, Through, ToFace, ToNext
from architectonic.family.records import Expression, Family, Model, Reference

DOES = {"make": "make", "add": "add to", "cut": "cut from", "overlap": "keep the overlap with"}


def _usable(document: Model) -> tuple[str, ...]:
    """Bodies that can be acted on."""
    return tuple(k for k, b in document.bodies.items() if not b.backdrop_only)


@dataclass(frozen=True, repr=False)
class Bodies(Blank):
    """Bodies of the document."""

    shape: ClassVar[str] = "bodies"
    several: ClassVar[bool] = True

    @property
    def hint(self) -> str:
        """Several, or one."""
        return "bodies" if self.several else "a body"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The first body, or those beside it for what a sentence needs besides."""
        known = _usable(document)
        return {self.field: known[:1] if self.field == "acts_on" else known[1:]}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Their names."""
        return bodies(to.document, value) if value else ""


class OneBody(Bodies):
    """One body."""

    shape: ClassVar[str] = "list"
    several: ClassVar[bool] = False


class Does(Bodies):
    """What something solid does, and to which bodies."""

    shape: ClassVar[str] = "does"

    @property
    def hint(self) -> str:
        """What it can do."""
        return "make or change bodies"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """Cut from what is there; make the first body."""
        known = _usable(document)
        return {"does": "cut", self.field: known} if known else {"does": "make", self.field: (make_id(),)}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """The verb and the bodies."""
        return f"{DOES[operation.does]} {bodies(to.document, value)}"


@dataclass(frozen=True, repr=False)
class End(Blank):
    """One end: at a distance, on something, beyond everything.

    Attributes:
        words: the ends that need nothing beside them, and those that a length says: words and sign.
        towards: the word before what it ends on; called: the name of its field for lengths.
    """

    shape: ClassVar[str] = "end"
    near: ClassVar[bool] = False
    words: ClassVar[tuple[tuple[str, str | None], ...]] = ()
    towards: ClassVar[str] = ""
    called: ClassVar[str] = ""
    accepts: ClassVar[Accepts] = accepting("face vertex", "plane point end", "the face, plane or point that it ends on")

    def candidates(self, of: Choosing) -> Named:
        """Planes, faces and points that it can reach."""
        return candidates.ends(of)

    def _length(self, family: Family, document: Model, typed: str) -> Expression:
        value = names.bind_quantity(family, document, typed, "length", "mm")
        edits.refuse_not_positive(value, "length", "where it starts" if self.near else "distance")
        return value

    def stored(self, family: Family, document: Model, chosen: Any, typed: str) -> dict[str, Any]:
        """Fields of the record for what is chosen and the length typed beside it; both ways is said by the near end.

        Raises:
            UserFault: the length cannot be used.
        """
        if chosen is None:
            return {}
        if chosen in ("through", "next"):
            return {self.field: Through() if chosen == "through" else ToNext()}
        if isinstance(chosen, Reference):
            offset = names.bind_quantity(family, document, typed, "length", "mm") if typed else None
            return {self.field: ToFace(target=chosen, offset=offset)}
        made: dict[str, Any] = {self.field: Distance(value=self._length(family, document, typed))}
        return {**made, "near": Symmetric()} if chosen == "both" else made

    def shown(self, record: Any) -> tuple[Any, Expression | None]:
        """What of the list a record has chosen, and the length beside it; the inverse of `stored`."""
        end = getattr(record, self.field)
        if isinstance(end, Distance):
            both = not self.near and isinstance(record.near, Symmetric)
            return ("both" if both else "distance"), end.value
        if isinstance(end, (Through, ToNext)):
            return ("through" if isinstance(end, Through) else "next"), None
        return (end.target, end.offset) if isinstance(end, ToFace) else (None, None)


class NearEnd(End):
    """Where something that is pushed starts."""

    near: ClassVar[bool] = True
    words = (("from its plane", None), ("from before it by", "distance"), ("from before all", "through"))
    towards: ClassVar[str] = "from"
    called: ClassVar[str] = "where it starts"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """On its plane."""
        return {}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Where it starts, when that is not its plane."""
        return end_words(to, value, operation.far, True)


class FarEnd(End):
    """Where something that is pushed ends."""

    words = (("by", "distance"), ("both ways by", "both"), ("through all", "through"), ("up to the next", "next"))
    towards: ClassVar[str] = "up to"
    called: ClassVar[str] = "distance or offset"

    @property
    def hint(self) -> str:
        """The first distance."""
        return f"by {self.first}"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """At the first distance."""
        return {self.field: Distance(value=Expression(text=self.first))}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """How far it goes."""
        return end_words(to, value, operation.near, False)


def end_words(to: Telling, end: Any, other: Any, near: bool) -> str:
    """An end of an extrusion in words."""
    if end is None or isinstance(end, Symmetric):
        return ""
    if isinstance(end, Through):
        both = isinstance(other, Through)
        return ("" if both else "from before all") if near else ("all the way through" if both else "through all")
    if isinstance(end, ToNext):
        return "up to the next"
    if isinstance(end, Distance):
        told = text(to.family, to.document, end.value)
        return f"from {told} before" if near else f"by {told}{', both ways' if isinstance(other, Symmetric) else ''}"
    assert isinstance(end, ToFace)
    offset = ""
    if end.offset is not None:
        shown = text(to.family, to.document, end.offset)
        offset = f" − {shown[1:]}" if shown.startswith("-") else f" + {shown}"
    return f"{'from' if near else 'up to'} {target(to.family, to.document, end.target)}{offset}"

"""Joints and placement rules as a sentence: two places by clicks, what holds them, what drives it; seen at once."""

from __future__ import annotations

from typing import Any, NamedTuple

from PyQt6.QtWidgets import QWidget

from architectonic.base.errors import UserFault
from architectonic.base.ids import new_id
from architectonic.describe.words import joining
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sentences.blankcard import BlankCard
from architectonic.desktop.sentences.blanks.picks import OfferedField
from architectonic.family import edits, scopes
from architectonic.family.documents.assembly import JOINTS, TAKES
from architectonic.family.names import free_name, shown_text
from architectonic.family.records import Assembly, Bond, Expression, Family, Mounting
from architectonic.session.joining import bonding
from architectonic.session.picking.subject import Pick

FIRST = "Click a face, edge or corner of the part that is to move, then one of the part that it goes to."
SECOND = "Now click what it goes to: a face, edge or corner of another part, or a plane of this assembly."


class Said(NamedTuple):
    """What the sentence starts with."""

    a: tuple[Mounting, ...] = ()
    b: tuple[Mounting, ...] = ()
    kind: str = "revolute"
    offset: str = ""
    angle: str = ""
    slide: str = ""
    turn: str = ""
    lead: str = ""
    play: str = ""
    least: str = ""
    most: str = ""
    facing: bool = False
    still: bool = False
    name: str = ""


class BondCard(BlankCard):
    """Holds two places; what it comes to is shown while it is open. Enter keeps, Esc leaves.

    Attributes:
        ends: b, the place that moves, then a, the one it goes to, as far as they are picked.
        bond: id of the one that is changed, a new one otherwise.
    """

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk)
        self.ends: list[Mounting] = []
        self.bond = ""
        self._joint = True
        self._kind = ""
        self._old: Bond | None = None
        self._warned = self._asking = self._lighting = False
        desk.main.selection_changed.connect(self._on_picked)
        desk.evaluated.connect(self._judge)
        desk.answered.connect(self._on_answered)

    @property
    def document(self) -> Assembly | None:
        """The assembly that is shown."""
        found = self.desk.main.document
        return found if isinstance(found, Assembly) else None

    @property
    def untouched(self) -> bool:
        """Whether nothing would be lost if it were left."""
        return not self.ends

    def start(self, joint: bool = True) -> None:
        """Open for a new joint or rule, with what is picked already."""
        document = self.document
        if document is None:
            return
        self._joint, self._old, self._warned = joint, None, False
        self.bond = new_id()
        self.ends = []
        self._say_anew(Said(name=""), "revolute" if joint else "coaxial")
        self.show()
        self.raise_()
        self._on_picked()
        self.setFocus()

    def change(self, key: str) -> None:
        """Open on one that is stored."""
        document, at = self.document, self.desk.main.at
        if document is None or at is None:
            return
        old = edits.bond_of(document, key)
        self._joint, self._old, self._warned = old.kind in JOINTS, old, False
        self.bond, self.ends = key, [old.b, old.a]
        family = self.desk.family

        def typed(value: Expression | None) -> str:
            return "" if value is None else shown_text(family, document, value)

        values = {f: typed(scopes.driven(family, at, old, f)[1]) for f in TAKES[old.kind]}
        limits = next(iter(old.limits.values()), None)
        if limits is not None:
            values |= {"least": typed(limits.least), "most": typed(limits.most)}
        self._say_anew(Said(facing=old.facing, still=bool(old.apart), name=old.name, **values), old.kind)  # type: ignore[arg-type]
        self.show()
        self.raise_()
        self._light()
        self.setFocus()
        self.on_changed("")

    # --- the sentence ---------------------------------------------------------------------------------

    def _say_anew(self, said: Said, kind: str) -> None:
        """Other blanks for another kind; what is said in those that stay is kept."""
        self._kind = kind
        sentence = joining.bond(kind)
        self.begin(sentence.title)
        for blank in sentence.blanks:
            self.add_blank(said._replace(kind=kind), blank, True)
        self._tell_ends()

    def _tell_ends(self) -> None:
        document = self.document
        for field, k, empty in (("b", 0, "pick what moves"), ("a", 1, "pick what it goes to")):
            held = self.blanks.get(field)
            if isinstance(held, OfferedField) and document is not None:
                ends = self.ends[k : k + 1]
                held.hold(ends, bonding.told(self.desk.family, document, ends[0]) if ends else empty)

    def _on_picked(self) -> None:
        """A click takes a place; one on the instance that was clicked last takes its place there."""
        if not self.isVisible() or self.document is None or self._lighting:
            return
        try:
            picked = bonding.mountings(self.desk.main.subject)
        except UserFault as fault:
            self.say(fault.sentence, True)
            return
        for made in picked:
            if made in self.ends:
                continue
            same = [k for k, e in enumerate(self.ends) if (e.instance, e.within) == (made.instance, made.within)]
            if same:
                self.ends[same[0]] = made
            elif len(self.ends) == 2:
                self.ends[1] = made
            else:
                self.ends.append(made)
        if (
            len(self.ends) == 2
            and self._old is None
            and self._warned is False
            and self._kind in ("revolute", "coaxial")
        ):
            kind = bonding.likely(self.ends, self._joint)
            if kind != self._kind:
                self._say_anew(self._said(), kind)
        self._light()
        self.on_changed("")

    def _light(self) -> None:
        """Both places are lit, whichever was clicked last."""
        document, main = self.document, self.desk.main
        if document is None or main.at is None or not self.ends:
            return
        made = Bond(id="", name="", kind="point", a=self.ends[-1], b=self.ends[0])
        lit: list[Pick] = bonding.ends_in_place(document, made, self.desk.evaluation, main.at)
        self._lighting = True
        main.pick(list(dict.fromkeys(lit)))
        self._lighting = False

    def _said(self) -> Said:
        """What the blanks hold now, as text."""
        found: dict[str, Any] = {}
        for field, held in self.blanks.items():
            if held.expression is not None:
                found[field] = held.expression.text().strip()
        for field in ("facing", "still"):
            if field in self.blanks:
                found[field] = bool(self.blanks[field].read(self.desk.family, self._model())[field])
        if "name" in self.blanks:
            found["name"] = self.blanks["name"].read(self.desk.family, self._model())["name"]
        return Said()._replace(**{k: v for k, v in found.items() if k in Said._fields})

    def _model(self) -> Assembly:
        document = self.document
        assert document is not None
        return document

    def on_changed(self, field: str) -> None:
        """Show what it comes to, as far as it is said."""
        if not self.isVisible() or self.document is None:
            return
        self._warned = False
        if field == "kind":
            kind = str(self.blanks["kind"].read(self.desk.family, self._model())["kind"])
            if kind != self._kind:
                self._say_anew(self._said(), kind)
        self._tell_ends()
        self.answers[1].setEnabled(len(self.ends) == 2)
        if len(self.ends) < 2:
            self.desk.preview(None)
            self.say(SECOND if self.ends else FIRST)
            return
        try:
            self.desk.preview(self._made(self.desk.family))
            self.say("…")
        except UserFault as fault:
            self.desk.preview(None)
            self.say(fault.sentence, True)

    def _made(self, family: Family) -> Family:
        """The family with what the sentence says.

        Raises:
            UserFault: it cannot be used.
        """
        document, at, said = self._model(), self.desk.main.at, self._said()
        assert at is not None
        b, a = self.ends
        kind: Any = self._kind
        taken = [o.name for o in document.bonds if o.id != self.bond]
        name = said.name or free_name(kind.capitalize(), taken)
        apart = self._apart(family, a, b) if said.still else ()
        values = {f: getattr(said, f) for f in TAKES[kind]}
        old = self._old
        kept = {f: scopes.driven(family, at, old, f)[0] for f in values} if old is not None and old.kind == kind else {}
        common = {f: t for f, t in values.items() if not kept.get(f)}
        made = edits.add_bond(family, document.id, kind, a, b, name, said.facing, common, apart, self._key(), self._new)
        for f, cell in kept.items():  # where an alternate says the value, it is said there again
            if cell:
                made = edits.set_bond_value(made, document.id, self.bond, f, values[f], cell)
        if kind in JOINTS:
            made = edits.set_limits(made, document.id, self.bond, JOINTS[kind][-1], said.least, said.most)  # type: ignore[arg-type]
        return made

    def _key(self) -> str:
        return self.bond if self._old is not None else ""

    def _new(self) -> str:
        return self.bond

    def _apart(self, family: Family, a: Mounting, b: Mounting) -> tuple[float, ...]:
        """What keeps the two where they are; a bond that is kept as it was keeps that too."""
        old, at, seen = self._old, self.desk.main.at, self.desk.settled
        if old is not None and old.apart and (old.a, old.b) == (a, b):
            return old.apart
        if at is None or seen is None:
            raise UserFault("it is not known yet where these are", "", "wait a moment, then try again")
        asked = bonding.asked(at, seen, (a, b))
        answers = self.desk.answers(asked, family)
        self._asking = any(n not in answers for n in asked)
        if self._asking:
            raise UserFault("it is being worked out where these are", "", "wait a moment")
        return bonding.kept_apart(at, seen, answers, a, b)

    def _on_answered(self) -> None:
        """Where the places are is known now."""
        if self._asking and self.isVisible():
            self._asking = False
            self.on_changed("")

    def _judge(self) -> None:
        """What it comes to, once it is known."""
        document, at = self.document, self.desk.main.at
        if not self.isVisible() or document is None or at is None or self.desk.previewed is None:
            return
        told, against = bonding.judged(self.desk.evaluation, at, document, self.bond)
        if told:
            self.say(f"{told}{' Enter keeps it all the same.' if against and self._warned else ''}", against)

    # --- results --------------------------------------------------------------------------------------

    def keep(self) -> None:
        """Store it as one step; one that contradicts others only when that is asked for twice."""
        document, at = self.document, self.desk.main.at
        if document is None or at is None or len(self.ends) < 2:
            return
        against = bonding.judged(self.desk.evaluation, at, document, self.bond)[1] and self.desk.previewed is not None
        if against and not self._warned:
            self._warned = True
            self._judge()
            return
        said = self._said()
        label = f"{self._kind} {said.name}".strip()
        if self.desk.apply(label, self._made):
            key = self.bond
            self.leave()
            self.desk.main.select(key)
        else:
            self.say(self.desk.refusal, True)

    def leave(self) -> None:
        """Close; everything is as it was."""
        was = self.isVisible()
        self.hide()
        if was:
            self.ends = []
            self.desk.preview(None)
            self.desk.main.pick([])

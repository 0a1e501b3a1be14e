"""Parts from Python: what of them is counted by itself, what they take whole from others, and their variations."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from architectonic.api.bodies import Body
from architectonic.api.documents import Document, Model
from architectonic.api.pathing import Path as SpacePath
from architectonic.api.pathing import led_path
from architectonic.api.speaking import body_of, the_name
from architectonic.base.errors import UserFault
from architectonic.check import parts
from architectonic.check.parts import PartLine
from architectonic.describe.measured import SurveyPlace
from architectonic.describe.references.surveys import SURVEYS
from architectonic.family import edits, hands
from architectonic.family import records as r
from architectonic.family.documents.part import PartItem
from architectonic.session.assembly import sending, working
from architectonic.session.files import outside
from architectonic.session.model import surveying
from architectonic.session.product import opposing, parting, varying


class Master(Model):
    """A document with bodies: a master, whose surfaces several parts are cut from, or a part."""

    def bring_in(self, source: Document, *bodies: str, name: str = "", among: Document | None = None) -> list[Body]:
        """Bodies of another part as bodies of this one, that go on following it.

        Args:
            bodies: their names, or those of part items; all when none is given. name: of the feed. among: as of `take`.
        """
        driver = edits.model(self.opened.family, source.id)
        made: list[str] = []
        items = {i.name: i for i in getattr(driver, "part_items", ())}
        held = {b for n in bodies if n in items for i in edits.below(driver, items[n].id) for b in i.bodies}  # type: ignore[arg-type]
        keys = [k for k, b in driver.bodies.items() if b.name in bodies or k in held or not bodies]
        unknown = [n for n in bodies if n not in items and all(b.name != n for b in driver.bodies.values())]
        if unknown:
            known = ", ".join(b.name for b in driver.bodies.values())
            raise UserFault(f"there is no body “{unknown[0]}”", source.name, f"bodies are {known}")

        through = self._seen(source, among)

        def change(family: r.Family) -> r.Family:
            family, found = working.feed_bodies(
                family, self.id, source.at, keys, name, through, make_id=self.opened.new_id
            )
            made.extend(found.values())
            return family

        self.apply(f"bring in bodies of {source.name}", change)
        return [Body(self, key) for key in made]

    def lead(self, points: list[tuple[float, float, float]], name: str = "", **said: Any) -> SpacePath:
        """A path in space through points, mm; further keywords as of its sentence: bend, closed, smooth, mirror, tool, spring."""
        return led_path(self, points, name, **said)

    def from_file(
        self, file: str | Path, *bodies: str, role: outside.Role = "build", unit: Any = "", name: str = ""
    ) -> list[Body]:
        """Bodies of a STEP file.

        Args:
            bodies: their names in the file; all when none is given.
            role: "reference" to be seen and taken from, never cut nor exported; "build" to build on.
            unit: mm, cm, m, in or ft, where the file says a wrong one.

        Raises:
            UserFault: the file cannot be used, or has no such body.
        """
        assert self.opened.engine is not None  # it looks into files
        looked = outside.look(Path(file))
        known = {b.path[-1]: b.path for b in looked.found.bodies}
        unknown = next((b for b in bodies if b not in known), None)
        if unknown is not None:
            raise UserFault(f"there is no body “{unknown}”", looked.file.name, f"bodies are {', '.join(known)}")
        made: list[str] = []

        def change(family: r.Family) -> r.Family:
            folder, wanted = self.opened.folder, [known[b] for b in bodies]
            family, key = outside.bring(family, self.id, looked, wanted, role, folder, unit, make_id=self.opened.new_id)
            record = next(o for o in edits.model(family, self.id).build if o.id == key)
            made.extend(getattr(record, "makes", ()))
            return edits.replace_operation(family, self.id, edits.replace(record, name=name)) if name else family

        self.apply(f"bodies of {looked.file.name}", change)
        return [Body(self, key) for key in made]


class Part(Master):
    """A part: bodies, and the items that they are listed as."""

    def survey(
        self, what: r.Measures, *bodies: str, direction: str = "z", against: str = ""
    ) -> list[tuple[Body, SurveyPlace]]:
        """The worst places of some bodies, the worst first: least wall, draft, inside radius, room around holes, deviation.

        Args:
            what: wall, wall by ball, draft, curvature, inside radius, hole to edge, hole to hole or deviation.
            bodies: names; all when none is given. direction: that a mould opens or a cutter stands along.
            against: name of the body that deviation is from.

        Raises:
            UserFault: there is nothing to survey.
        """
        keys = [body_of(self, b, "bodies") for b in bodies] or [b.id for b in self.bodies]
        second = the_name(self, direction, "direction") if SURVEYS[what].about else None
        if SURVEYS[what].against:
            second = r.Reference(item=body_of(self, against, "against"))
        assert self.opened.engine is not None
        found = surveying.survey(self.opened.family, self.at, what, keys, second)
        return [(Body(self, key), place) for key, place in found.places]

    def opposite_hand(self, name: str, plane: Any = "right", upto: str = "", bodies: tuple[str, ...] = ()) -> Part:
        """A part that is the mirror image of this one and shares everything up to an operation with it.

        Args:
            plane: a standard plane, or a datum plane of this part, or its name.
            upto: name of the last operation that both share; "" for the last one that there is now.
            bodies: names of those that are mirrored; all when none is given.

        Raises:
            UserFault: there is nothing to mirror, or the name is taken.
        """
        model = self.model
        keys = tuple(body_of(self, b, "bodies") for b in bodies)
        last = self.operation(upto).record.id if upto else ""
        taken = the_name(self, plane, "plane")
        made: list[str] = []

        def change(family: r.Family) -> r.Family:
            family, key = opposing.begin(family, model.id, name, taken, keys, last, self.opened.new_id)
            made.append(key)
            return family

        self.apply(f"opposite hand of {model.name}", change)
        return Part(self.opened, made[-1], self.size)

    def fork_hand(self) -> None:
        """Let an opposite hand share nothing any more: what it shared becomes its own."""
        self.apply(f"fork {self.name}", lambda f: opposing.fork(f, self.id))

    def what_differs(self, other: Document) -> list[opposing.HandDifference]:
        """What this part and its opposite hand have each of its own, and figures that are not the same.

        Raises:
            UserFault: the two are no hands of each other.
        """
        family = self.opened.family
        pair = next((h for h in hands.hands_of(family, self.id) if other.id in (h.first, h.other)), None)
        if pair is None:
            raise UserFault(f"{other.name} is no opposite hand of it", self.name, "make one first")
        found = self.opened.evaluate((self.name, other.name), self.size)
        return opposing.differences(found, pair, self.at.configuration)

    def item(
        self,
        name: str,
        *bodies: str,
        number: str = "",
        description: str = "",
        finish: str = "",
        supply: Any = "",
        apart: bool = False,
        quantity: int = 1,
        under: str = "",
    ) -> None:
        """A part item of some bodies, or a heading for others when none is given.

        Args:
            supply: "make" or "buy"; apart: each body is a piece of its own; quantity: of each piece, where fewer are drawn.
            under: the name of the item that it stands under.
        """
        keys = tuple(self.body(b).id for b in bodies)
        record = edits.part(self.opened.family, self.id)
        within = next((i.id for i in record.part_items if i.name == under), "")
        if under and not within:
            raise UserFault(f"there is no part item “{under}”", self.name, "make it first")
        made = PartItem(
            id=self.opened.new_id(), name=name, number=number, note=description, finish=finish, supply=supply,
            bodies=keys, apart=apart, quantity=quantity, within=within,
        )  # fmt: skip
        self.apply(f"part item {name}", lambda f: edits.put_part_items(f, self.id, [made]))

    def items(self) -> list[PartLine]:
        """Its part items, those that stand under one below it; mass of each piece in g."""
        return parts.items_of(self.evaluation(), self.at)

    def offer_items(self) -> list[PartLine]:
        """Make an item of every body that is in none: like ones as one with so many pieces, mirrored ones as a pair."""
        made = parting.offered(self.evaluation(), self.at, self.opened.new_id)
        self.apply("part items", lambda f: edits.put_part_items(f, self.id, made))
        return self.items()

    def divide(self, *items: str, assembly: str = "") -> list[str]:
        """A document for each of some items (all by default), fed from this one; their names.

        Args:
            assembly: the name of one that places them where they are; "" for none.
        """
        record = edits.part(self.opened.family, self.id)
        keys = [i.id for i in record.part_items if i.bodies and (i.name in items or not items)]
        made: list[str] = []

        def change(family: r.Family) -> r.Family:
            family, found = parting.divide(family, self.id, keys, assembly, self.opened.new_id)
            made.extend(found)
            return family

        self.apply(f"divide {self.name}", change)
        return [self.opened.family.documents[k].name for k in made]

    def variations(self, count: int) -> str:
        """Copies of it in a row, itself the first, in an assembly whose name is returned; each is shaped apart from then on."""
        made: list[str] = []
        wide = varying.width(self.evaluation(), self.at)

        def change(family: r.Family) -> r.Family:
            family, row = varying.begin(family, self.id, count, wide, self.opened.new_id)
            made.append(row)
            return family

        self.apply(f"variations of {self.name}", change)
        return self.opened.family.documents[made[-1]].name

    def fetch(self, operation: str) -> None:
        """Make an operation that an assembly feeds one of that assembly; the inverse of `Assembly.send`."""
        key = self.operation(operation).id
        self.apply(f"fetch {operation}", lambda f: sending.fetch(f, self.id, key, self.opened.new_id)[0])

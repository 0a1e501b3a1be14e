"""Part items of the shown part: what of it is made, bought and counted by itself."""

from __future__ import annotations

from collections.abc import Callable

from architectonic.base.ids import new_id
from architectonic.check import parts
from architectonic.check.parts import PartLine
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.family import edits
from architectonic.family.documents.part import Part, PartItem
from architectonic.family.names import free_name
from architectonic.family.records import Family
from architectonic.session.product import parting

SUPPLY = {"": "not said", "make": "made", "buy": "bought"}
PIECES = ("one piece together", "each body a piece")
ALONE = "nothing"


def grams(mass: float | None) -> str:
    """A mass as lists show it."""
    return "—" if mass is None else f"{mass:.1f} g"


class PartItemCommands:
    """Callbacks about part items."""

    def __init__(self, desk: Desk, prompt: Prompt, cards: ListCard, canvas: BodyCanvas) -> None:
        self.desk, self.prompt, self.cards, self.canvas = desk, prompt, cards, canvas
        self._again = False
        desk.evaluated.connect(self._on_evaluated)

    def actions(self) -> list[Action]:
        """The actions about them."""
        bodies, some = lambda: bool(self._bodies()), lambda: bool(self._part and self._part.part_items)
        return [
            Action("item.list", "Part items", self.list, lambda: self._part is not None, short="Items", also=("bill of materials", "cut list", "components"), tells="What this part is made of, with number, finish and mass.", wants="wants a part"),
            Action("item.new", "Make a part item of these bodies…", self.new, bodies, short="Make item…", also=("component", "make part"), tells="A line of its own in every list; it can be placed alone.", wants="wants picked bodies in no item"),
            Action("item.offer", "Make items of all bodies, like ones together", self.offer, self._free, short="Offer items", tells="One shape is one item with so many pieces; mirrored ones are a pair.", wants="wants bodies in no item"),
            Action("item.edit", "Edit this part item…", self.edit, lambda: self._held is not None, short="Edit item…", tells="Number, name, finish, made or bought, quantity.", wants="wants a body of an item"),
            Action("item.group", "Put part items under a heading…", self.group, some, short="Heading…", tells="A group of items in the lists.", wants="wants part items"),
            Action("item.drop", "Take this part item out of the lists", self.drop, lambda: self._held is not None, short="No item", tells="Its bodies stay.", wants="wants a body of an item"),
            Action("item.divide", "Divide into documents…", self.divide, some, short="Divide…", also=("explode", "save bodies"), tells="A part for each item, fed from this one.", wants="wants part items"),
        ]  # fmt: skip

    def _on_evaluated(self) -> None:
        """The list is made anew once what was changed in it is worked out."""
        if self._again and not self.desk.updating:
            self._again = False
            self.list()

    @property
    def _part(self) -> Part | None:
        found = self.desk.main.document
        return found if isinstance(found, Part) else None

    def _bodies(self) -> list[str]:
        """Picked bodies that are in no item."""
        part = self._part
        if part is None:
            return []
        picked = dict.fromkeys(p.body.body for p in self.desk.main.picks if p.body.document == part.id)
        return [b for b in picked if b in part.bodies and parting.holder(part, b) is None]

    def _free(self) -> bool:
        part = self._part
        held = {b for i in part.part_items for b in i.bodies} if part is not None else set()
        return part is not None and any(k not in held and not b.backdrop_only for k, b in part.bodies.items())

    @property
    def _held(self) -> PartItem | None:
        """The item of what is picked."""
        part = self._part
        found = (parting.holder(part, p.body.body) for p in self.desk.main.picks) if part is not None else ()
        return next((i for i in found if i is not None), None)

    # --- lists ----------------------------------------------------------------------------------------

    def list(self) -> None:
        """Every item; going to one lights its bodies."""
        part, at, evaluation = self._part, self.desk.main.at, self.desk.settled
        if part is None or at is None or evaluation is None:
            return
        lines = parts.items_of(evaluation, at)
        rows: list[tuple[tuple[str, ...], Callable[[], object] | None]] = [
            (self._words(line), lambda k=line.item: self._light(k))  # type: ignore[misc]
            for line in lines
        ]
        free = [b.name for k, b in part.bodies.items() if parting.holder(part, k) is None and not b.backdrop_only]
        title = f"{part.name}: {len(lines)} part items" if lines else f"{part.name} has no part items yet"
        title += f"; in none: {', '.join(free[:4])}{' …' if len(free) > 4 else ''}" if free else ""
        choices = [("Make items of the rest", self.offer)] if free else []
        headings = ("number", "item", "quantity", "each", "together", "material", "finish", "it is", "description")
        self.cards.start(title, headings, rows, choices)

    @staticmethod
    def _words(line: PartLine) -> tuple[str, ...]:
        whole = None if line.mass is None else line.mass * line.quantity
        supply = SUPPLY[line.supply] if line.supply else ""
        count = str(line.quantity) if line.quantity else ""
        each, together = (grams(line.mass), grams(whole)) if line.quantity else ("", "")
        return (line.number, "    " * line.depth + line.name, count, each, together, line.material, line.finish, supply, line.note)  # fmt: skip

    def _light(self, key: str) -> None:
        """All faces of the bodies of an item."""
        part = self._part
        wanted = {b for i in edits.below(part, key) for b in i.bodies} if part is not None else set()
        self.desk.main.pick(
            [("face", b, f) for b, m, _ in self.canvas.meshes if b.body in wanted for f in dict.fromkeys(m.faces)]
        )

    # --- changes --------------------------------------------------------------------------------------

    def new(self) -> None:
        """Ask what the picked bodies are."""
        part, bodies = self._part, self._bodies()
        assert part is not None
        name = free_name(part.bodies[bodies[0]].name, [i.name for i in part.part_items])
        self._ask(PartItem(id=new_id(), name=name, bodies=tuple(bodies)), f"Part item of {len(bodies)}")

    def edit(self) -> None:
        """Ask what the item of what is picked is."""
        held = self._held
        if held is not None:
            self._ask(held, held.name)

    def _ask(self, item: PartItem, title: str) -> None:
        part = self._part
        assert part is not None
        heads = {i.name: i.id for i in part.part_items if i.id != item.id and not i.bodies}
        above = next((n for n, k in heads.items() if k == item.within), ALONE)
        under = [above, *(n for n in (ALONE, *heads) if n != above)]
        supply = [SUPPLY[item.supply], *(w for k, w in SUPPLY.items() if k != item.supply)]
        pieces = list(PIECES[::-1] if item.apart else PIECES)
        fields: list[tuple[str, str | list[str]]] = [
            ("number", item.number), ("name", item.name), ("description", item.note), ("finish", item.finish),
            ("it is", supply), ("quantity", str(item.quantity)),
        ]  # fmt: skip
        fields += [("pieces", pieces)] if len(item.bodies) > 1 else []
        fields += [("under", under)] if heads else []

        def done(number: str, name: str, note: str, finish: str, word: str, count: str, *more: str) -> bool:
            said = dict(zip([f for f, _ in fields[6:]], more, strict=True))
            made = edits.replace(
                item, number=number, name=name, note=note, finish=finish, quantity=int(count) if count.strip().isdecimal() else 0,
                supply=next(k for k, w in SUPPLY.items() if w == word),
                apart=said.get("pieces", PIECES[0]) == PIECES[1], within=heads.get(said.get("under", ""), ""),
            )  # fmt: skip
            listed = self.cards.isVisible()
            if not self.desk.apply(f"part item {name}", lambda f: edits.put_part_items(f, part.id, [made])):
                return False
            self._again = listed
            return True

        self.prompt.ask(title, fields, done)

    def offer(self) -> None:
        """An item for every body that is in none; the list shows them."""
        at, evaluation = self.desk.main.at, self.desk.settled
        if at is None or evaluation is None:
            return
        made: list[PartItem] = []
        if not self.desk.attempt(lambda: made.extend(parting.offered(evaluation, at))):
            return
        self._again = self.desk.apply(f"{len(made)} part items", lambda f: edits.put_part_items(f, at.document, made))

    def group(self) -> None:
        """Ask for a heading and what is the first to stand under it; the picked ones come along."""
        part = self._part
        assert part is not None
        named = {i.name: i.id for i in part.part_items}
        picked = [
            i.id for p in self.desk.main.picks if (i := parting.holder(part, p.body.body)) is not None
        ]  # of what is picked
        fields: list[tuple[str, str | list[str]]] = [("heading", free_name("Group", list(named)))]
        fields += [] if picked else [("of", list(named))]

        def done(name: str, first: str = "") -> bool:
            keys = list(dict.fromkeys(picked)) or [named[first]]
            return self.desk.apply(f"heading {name}", lambda f: parting.grouped(f, part.id, keys, name))

        self.prompt.ask("Put under a heading", fields, done)

    def drop(self) -> None:
        """The bodies of the item belong to none any more."""
        part, held = self._part, self._held
        if part is not None and held is not None:
            self.desk.apply(f"no item {held.name}", lambda f: edits.drop_part_item(f, part.id, held.id))

    def divide(self) -> None:
        """Ask which items become documents, and whether an assembly places them."""
        part = self._part
        assert part is not None
        rows = {i.name: [i.id] for i in part.part_items if i.bodies}
        every = f"all {len(rows)}"
        name = free_name(f"{part.name} assembly", [d.name for d in self.desk.family.documents.values()])

        def done(which: str, assembly: str) -> bool:
            keys = rows.get(which) or [k for ids in rows.values() for k in ids]

            def edit(family: Family) -> Family:
                return parting.divide(family, part.id, keys, assembly.strip())[0]

            return self.desk.apply(f"divide {part.name} into documents", edit)

        self.prompt.ask("Divide into documents", [("items", [every, *rows]), ("placed in an assembly called", name)], done, "Divide")  # fmt: skip

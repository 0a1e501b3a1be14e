"""What bodies are called and made of."""

from __future__ import annotations

from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import asking
from architectonic.family import edits, names
from architectonic.family.records import Model
from architectonic.family.scopes import InPlace
from architectonic.quantities.materials import MATERIALS
from architectonic.render.palette import NAMED
from architectonic.session.model import building

PALETTE = "from the palette"
"""The word for the next free colour."""


class BodyCommands:
    """Callbacks about bodies of the shown part."""

    def __init__(self, desk: Desk, prompt: Prompt, canvas: BodyCanvas) -> None:
        self.desk, self.prompt, self.canvas = desk, prompt, canvas

    def actions(self) -> list[Action]:
        """The actions about how bodies are shown."""
        title = "Name, material, colour and group of a body…"
        return [
            Action(
                "body.edit",
                title,
                self.edit_body,
                self._has_bodies,
                short="Body…",
                also=("colour", "material", "appearance"),
                tells="Its name, material, colour and group.",
                wants="wants a body",
            ),
            Action(
                "body.group",
                "Show only a group of bodies…",
                self.only_group,
                lambda: bool(self._groups()),
                tells="The others are out of sight.",
                wants="wants a group",
            ),
        ]

    def _has_bodies(self) -> bool:
        document = self.desk.main.document
        return isinstance(document, Model) and bool(document.bodies)

    def edit_body(self) -> None:
        """Ask what the picked body, or one of several, is called and made of."""
        document = self.desk.main.document
        assert isinstance(document, Model)
        wanted = [b.body for _, b, _ in self.desk.main.picks if b.document == document.id]
        if not wanted and len(document.bodies) > 1:
            named = {b.name: k for k, b in document.bodies.items()}
            self.prompt.ask("Which body", [("body", list(named))], lambda name: self._ask_body(named[name]), "Go on")
            return
        self._ask_body((wanted or list(document.bodies))[0])

    def _ask_body(self, key: str) -> bool:
        document = self.desk.main.document
        assert isinstance(document, Model)
        body, at = document.bodies[key], document.id
        density = names.shown_text(self.desk.family, document, body.density) if body.density is not None else ""
        known = [m.name for m in MATERIALS]
        order = [body.material, *(m for m in known if m != body.material)]
        uses = ["a body of this part", "a backdrop: seen, never acted on, weighed or exported"]
        uses = uses[::-1] if body.backdrop_only else uses
        words = {v: k for k, v in NAMED.items()}
        own = words.get(body.colour, body.colour or PALETTE)
        colours = [own, *(c for c in (PALETTE, *NAMED) if c != own)]

        def done(name: str, material: str, typed: str, use: str, colour: str, group: str) -> bool:
            said = edits.replace(
                body,
                name=name,
                material=material,
                backdrop_only=use.startswith("a backdrop"),
                colour=NAMED.get(colour, "" if colour == PALETTE else colour),
                group=" ".join(group.split()),
            )
            return self.desk.apply(
                f"{name} of {material or 'no material'}", lambda f: building.change_body(f, at, key, said, typed)
            )

        self.prompt.ask(
            body.name,
            [
                ("name", body.name),
                ("material", order),
                ("density", asking(density, self.desk.main)),
                ("it is", uses),
                ("colour", colours),
                ("group", body.group),
            ],
            done,
        )
        return True

    def _groups(self) -> dict[str, set[InPlace]]:
        """Bodies by group."""
        document = self.desk.main.document
        found: dict[str, set[InPlace]] = {}
        if not isinstance(document, Model):
            return found
        for key, body in document.bodies.items():
            if body.group:
                found.setdefault(body.group, set()).add(self.desk.main.body(key))
        return found

    def only_group(self) -> None:
        """Ask which group alone is to be seen."""
        groups = self._groups()

        def done(name: str) -> bool:
            everything = {b for b, _, _ in self.canvas.meshes}
            self.canvas.hide_bodies(everything - groups[name])
            return True

        self.prompt.ask("Show only the bodies of a group", [("group", list(groups))], done, "Show")

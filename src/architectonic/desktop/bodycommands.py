"""What bodies are called and made of."""

from __future__ import annotations

from architectonic.desktop.actions import Action
from architectonic.desktop.prompt import Prompt
from architectonic.desktop.workbench import Workbench
from architectonic.family import names
from architectonic.family.records import Part
from architectonic.quantities.materials import MATERIALS
from architectonic.session import building


class BodyCommands:
    """Callbacks about bodies of the shown part."""

    def __init__(self, bench: Workbench, prompt: Prompt) -> None:
        self.bench, self.prompt = bench, prompt

    def actions(self) -> list[Action]:
        """All of them."""
        title = "Name, material and density of a body…"
        return [Action("body.edit", title, self.edit_body, self._has_bodies, short="Body…")]

    def _has_bodies(self) -> bool:
        document = self.bench.main.document
        return isinstance(document, Part) and bool(document.bodies)

    def edit_body(self) -> None:
        """Ask what the picked body, or one of several, is called and made of."""
        document = self.bench.main.document
        assert isinstance(document, Part)
        wanted = [b.partition(".")[2] for _, b, _ in self.bench.main.picks if b.startswith(f"{document.id}.")]
        if not wanted and len(document.bodies) > 1:
            named = {b.name: k for k, b in document.bodies.items()}
            self.prompt.ask("Which body", [("body", list(named))], lambda name: self._ask_body(named[name]), "Go on")
            return
        self._ask_body((wanted or list(document.bodies))[0])

    def _ask_body(self, key: str) -> bool:
        document = self.bench.main.document
        assert isinstance(document, Part)
        body, at = document.bodies[key], document.id
        density = names.shown_text(self.bench.family, document, body.density) if body.density is not None else ""
        known = [m.name for m in MATERIALS]
        order = [body.material, *(m for m in known if m != body.material)]
        uses = ["a body of this part", "a backdrop: seen, never acted on, weighed or exported"]
        uses = uses[::-1] if body.backdrop_only else uses

        def done(name: str, material: str, typed: str, use: str) -> bool:
            backdrop = use.startswith("a backdrop")
            return self.bench.apply(
                f"{name} of {material or 'no material'}",
                lambda f: building.change_body(f, at, key, name, material, typed, backdrop),
            )

        fields: list[tuple[str, str | list[str]]] = [("name", body.name), ("material", order), ("density", density)]
        self.prompt.ask(body.name, [*fields, ("it is", uses)], done)
        return True

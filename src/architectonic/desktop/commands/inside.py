"""Looking closer at bodies: cut open, coloured by draft, more of what was picked."""

from __future__ import annotations

import math

from architectonic.base.errors import UserFault
from architectonic.describe.references.planes import STANDARD
from architectonic.describe.results import Frame, Node
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.quantities.compiled import complete, fixed_value
from architectonic.render.tint import MouldPull
from architectonic.session.picking import picked, picking
from architectonic.session.picking.subject import Pick

WAYS = {
    "upwards (z)": (0.0, 0.0, 1.0),
    "downwards (-z)": (0.0, 0.0, -1.0),
    "along x": (1.0, 0.0, 0.0),
    "against x": (-1.0, 0.0, 0.0),
    "along y": (0.0, 1.0, 0.0),
    "against y": (0.0, -1.0, 0.0),
}


class InsideCommands:
    """Callbacks about what the 3D canvas shows of bodies; nothing of it is stored."""

    def __init__(self, desk: Desk, prompt: Prompt, canvas: BodyCanvas) -> None:
        self.desk, self.prompt, self.canvas = desk, prompt, canvas

    def actions(self) -> list[Action]:
        """The actions that open bodies to look inside."""
        return [
            Action("view.open", "Cut bodies open, or close them", self.cut_open, self._has_bodies, short="Cut open", keys="Ctrl+Shift+X", also=("section", "cut away"), tells="A section; what is cut is seen from inside.", wants="wants a body"),
            Action("view.draft", "Colour faces by draft…", self.draft, self._has_bodies, short="Draft colours…", also=("mould",), tells="Which faces leave a mould, by colour.", wants="wants a body"),
            Action("pick.like", "Everything like it", lambda: self._more("like"), self._has_pick, short="All like it", tells="Faces or edges of its kind and size.", wants="wants something picked"),
            Action("pick.made", "Everything that the same operation made", lambda: self._more("made"), self._has_pick, short="Made together", tells="All that came from the same row.", wants="wants something picked"),
            Action("pick.chain", "Edges that run on from it", lambda: self._more("chain"), lambda: self._has("edge"), short="Run on", tells="The edges that go on without a corner.", wants="wants an edge"),
            Action("pick.around", "Edges around the face", lambda: self._more("around"), lambda: self._has("face"), short="Edges around", tells="The edges that bound a face.", wants="wants a face"),
        ]  # fmt: skip

    def _has_bodies(self) -> bool:
        return bool(self.canvas.meshes)

    def _has_pick(self) -> bool:
        return bool(self.desk.main.picks)

    def _has(self, kind: str) -> bool:
        return any(k == kind for k, _, _ in self.desk.main.picks)

    # --- inside ---------------------------------------------------------------------------------------

    def cut_open(self) -> None:
        """At the picked flat face or the chosen plane, else through the middle; again to close."""
        opening = self.canvas.opening
        if opening.frame is not None:
            opening.open(None)
            return
        opening.open(self._chosen_plane() or opening.through_middle())
        self.desk.told.emit("Cut open: drag the arrow, click it to take the other half away.", False)

    def _chosen_plane(self) -> Frame | None:
        for kind, body, label in self.desk.main.picks:
            mesh = self.canvas.mesh(body)
            plane = mesh.planes[mesh.faces.index(label)] if mesh and kind == "face" and label in mesh.faces else None
            if plane:
                return Frame(tuple(plane[0]), (1.0, 0.0, 0.0), tuple(plane[1]))
        at, evaluation = self.desk.main.at, self.desk.evaluation
        found = evaluation.value(Node("frame", at, self.desk.main.operation)) if evaluation and at else None
        return found if isinstance(found, Frame) else None

    def draft(self) -> None:
        """Ask for the direction and the least angle; again for the bodies' own colours."""
        if self.canvas.opening.pull is not None:
            self.canvas.opening.colour_by(None)
            return
        ways = dict(WAYS)
        plane = self._chosen_plane()
        if plane is not None and plane not in STANDARD.values():
            ways = {"square to what is chosen": plane.normal, **WAYS}

        def done(way: str, typed: str) -> bool:
            try:
                least = fixed_value(complete(typed, "angle", "deg"), "angle")
            except UserFault as fault:
                self.desk.told.emit(fault.sentence, True)
                return False
            if not 0 <= least < math.pi / 2:
                self.desk.told.emit("The least draft is from 0 to below 90 deg.", True)
                return False
            self.canvas.opening.colour_by(MouldPull(ways[way], least))
            return True

        self.prompt.ask("Colour faces by draft", [("the mould opens", list(ways)), ("least", "1 deg")], done, "Show")

    # --- more of what is picked -----------------------------------------------------------------------

    def _more(self, how: str) -> None:
        """Pick more; while a sentence takes clicks, it takes these."""
        main, found = self.desk.main, []
        for kind, body, label in main.picks:
            mesh = main.mesh(body, label)
            if mesh is None:
                continue
            if how == "around" and kind == "face":
                found += [Pick("edge", body, e) for e in picking.around(mesh, label)]
            elif how == "chain" and kind == "edge":
                found += [Pick("edge", body, e) for e in picking.chain(mesh, label)]
            elif how in ("like", "made"):
                more = picking.like(mesh, kind, label) if how == "like" else picking.made_together(mesh, kind, label)
                found += [Pick(kind, body, other) for other in more]
        picks = list(dict.fromkeys(found))
        if not main.gathering:
            main.pick(picks)
            return
        for kind, body, label in [p for p in picks if p not in main.picks and p[0] in main.gathering.bodies]:
            own = main.subject.id_here(body)
            if own:
                main.gathered.emit(picked.reference(main.mesh(body, label), own, kind, label))

"""Looking closer at bodies: cut open, how fair they run, more of what was picked."""

from __future__ import annotations

from architectonic.describe.results import Frame, Node
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.session.picking import picked, picking
from architectonic.session.picking.subject import Pick


class InsideCommands:
    """Callbacks about what the 3D canvas shows of bodies; nothing of it is stored."""

    def __init__(self, desk: Desk, prompt: Prompt, canvas: BodyCanvas) -> None:
        self.desk, self.prompt, self.canvas = desk, prompt, canvas

    def actions(self) -> list[Action]:
        """The actions that open bodies to look inside."""
        return [
            Action("view.open", "Cut bodies open, or close them", self.cut_open, self._has_bodies, short="Cut open", keys="Ctrl+Shift+X", also=("section", "cut away"), tells="A section; what is cut is seen from inside.", wants="wants a body"),
            Action("view.stripes", "Stripes of light on faces, or none", self.stripes, self._has_part, short="Stripes", also=("zebra", "reflection", "continuity", "fair"), tells="Where they break faces only meet; where they kink they are smooth, not evenly curved.", wants="wants a part with bodies"),
            Action("view.comb", "Combs of curvature on edges, or none", self.comb, self._has_part, short="Combs", also=("curvature comb", "fair", "radius of curvature"), tells="How strongly edges bend along their way: of the picked ones, or of all.", wants="wants a part with bodies"),
            Action("pick.like", "Everything like it", lambda: self._more("like"), self._has_pick, short="All like it", tells="Faces or edges of its kind and size.", wants="wants something picked"),
            Action("pick.made", "Everything that the same operation made", lambda: self._more("made"), self._has_pick, short="Made together", tells="All that came from the same row.", wants="wants something picked"),
            Action("pick.chain", "Edges that run on from it", lambda: self._more("chain"), lambda: self._has("edge"), short="Run on", tells="The edges that go on without a corner.", wants="wants an edge"),
            Action("pick.around", "Edges around the face", lambda: self._more("around"), lambda: self._has("face"), short="Edges around", tells="The edges that bound a face.", wants="wants a face"),
        ]  # fmt: skip

    def _has_bodies(self) -> bool:
        return bool(self.canvas.meshes)

    def _has_part(self) -> bool:
        document = self.desk.main.document
        return document is not None and document.makes_bodies and self._has_bodies()

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

    def stripes(self) -> None:
        """Lines of light in the faces, or none."""
        fair = self.canvas.opening.fairness
        fair.show(not fair.striped, fair.combed)

    def comb(self) -> None:
        """Combs of curvature on the edges, or none."""
        fair = self.canvas.opening.fairness
        fair.show(fair.striped, not fair.combed)

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

"""What clicks in a canvas fill the active blank of an open sentence with."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF

from architectonic.base.places import point_on
from architectonic.describe.references.places import parts_of, place_of
from architectonic.describe.references.planes import in_space
from architectonic.describe.results import PlacedCurve, SketchResult, Vector
from architectonic.describe.words.accepts import Accepts
from architectonic.desktop.body.space import Hit, Space
from architectonic.desktop.body.view import BodyView
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import Datum, Reference, Sketch
from architectonic.session.feeds.held import FedThing
from architectonic.session.picking import picked

NEAR = 8.0
"""How near the pointer must come to the end of a drawn curve, pixels."""


class Taker:
    """Turns clicks in a 3D canvas into references for the open sentence."""

    def __init__(self, canvas: BodyView, space: Space) -> None:
        self.canvas, self.space = canvas, space

    @property
    def wants(self) -> Accepts:
        """What the active blank waits for."""
        return self.canvas.shown.gathering

    def click(self, q: QPointF) -> None:
        """Give the sentence what lies under a pixel, or say why it cannot be taken."""
        canvas, wants, hit = self.canvas, self.wants, self.canvas.current()
        over = self.space.over
        found = self._of_body(q) if hit is not None and hit.kind == "vertex" else None  # where a curve ends on it too
        if found is None and over is not None and over.at == canvas.shown.at:
            found = self._drawn(over, q)
        if found is None and "region" in wants.drawn:
            region = self.space.region_at(q)
            found = Reference(item=region[0], label=region[1]) if region is not None else None
        if found is None:
            found = self._of_body(q)
        if found is not None:
            canvas.shown.gathered.emit(found)

    def take_all(self) -> None:
        """Everything of the shown bodies that the open sentence takes and has not yet; all faces while none is open."""
        canvas, wants = self.canvas, self.wants
        kind = next((k for k in ("edge", "face") if k in wants.bodies), "") if wants else "face"
        known = [(body, label) for _, body, label in canvas.shown.picks]
        found = [
            (body, label)
            for body, mesh, _ in canvas.meshes
            for label in dict.fromkeys({"edge": mesh.edges, "face": mesh.faces}.get(kind, ()))
        ]
        if not wants:
            canvas.shown.pick([(kind, body, label) for body, label in found])
            return
        for body, label in found:
            own = canvas.shown.subject.id_here(body)
            if not own:
                continue
            reference = picked.reference(canvas.shown.mesh(body, label), own, kind, label)
            seen = reference.witness.kind if kind == "face" and reference.witness is not None else ""
            fits = not (wants.flat and seen not in ("", "plane")) and not (wants.round and seen == "plane")
            if (body, label) not in known and fits:
                canvas.shown.gathered.emit(reference)

    def _drawn(self, over: Hit, q: QPointF) -> Reference | None:
        """A datum, a sketch, a curve or one of its ends."""
        drawn = self.wants.drawn
        record = next((t.operation for t in self.space.things() if t.operation.id == over.operation), None)
        if isinstance(record, FedThing):
            part = self._end(over, q) if "end" in drawn else ""
            return Reference(item=record.id, label=part) if part or record.gives in drawn else None
        if isinstance(record, Datum):
            return Reference(item=record.id) if record.gives in drawn else None
        if isinstance(record, BodyOperation):
            return Reference(item=record.id) if "path" in drawn else None
        if not isinstance(record, Sketch):
            return None
        if over.curve and "end" in drawn:
            part = self._end(over, q)
            if part:
                return Reference(item=record.id, label=point_on(over.curve, part))
        if "sketch" in drawn:
            return Reference(item=record.id)
        return Reference(item=record.id, label=over.curve) if over.curve and "curve" in drawn else None

    def _end(self, over: Hit, q: QPointF) -> str:
        """The named point of a curve that the pointer is at; "" for none."""
        space = self.space
        thing = next((t for t in space.things() if t.operation.id == over.operation), None)
        frame = space.frame_of(thing) if thing is not None else None
        value = thing.value if thing is not None else None
        fed = value.curve if isinstance(value, PlacedCurve) else None
        curve = value.curves.get(over.curve) if isinstance(value, SketchResult) else fed
        if frame is None or curve is None:
            return ""
        best, gap = "", NEAR
        for part in parts_of(curve):
            at = place_of(curve, part)
            if at is not None:
                x, y = space.to_screen(np.array([in_space(frame, at)]))[0]
                away = float(np.hypot(x - q.x(), y - q.y()))
                best, gap = (part, away) if away < gap else (best, gap)
        return best

    def _touched(self, q: QPointF, found: Reference) -> Vector | None:
        """Where a click met a flat face."""
        canvas, seen = self.canvas, found.witness
        if seen is None or seen.kind != "plane" or not seen.normal:
            return None
        start, way = canvas.camera.ray(q.x(), q.y(), canvas.width(), canvas.height())
        steep = float(way @ np.array(seen.normal))
        if not steep:
            return None
        x, y, z = start + way * float((np.array(seen.at) - start) @ np.array(seen.normal)) / steep
        return (float(x), float(y), float(z))

    def _of_body(self, q: QPointF) -> Reference | None:
        """What is hit on a body of the document's own."""
        canvas, wants, hit = self.canvas, self.wants, self.canvas.current()
        if hit is None or hit.kind not in wants.bodies:
            return None
        own = canvas.shown.subject.id_here(hit.body)
        if not own:
            canvas.desk.told.emit(
                "This is another document's: bring its body in first, or take from it with Take from…", True
            )
            return None
        found = picked.reference(canvas.shown.mesh(hit.body, hit.label), own, hit.kind, hit.label)
        canvas.shown.touched = self._touched(q, found)
        kind = found.witness.kind if hit.kind == "face" and found.witness is not None else ""
        if wants.flat and kind not in ("", "plane"):
            canvas.desk.told.emit(f"This face is a {kind}; click {wants.says}.", True)
            return None
        if wants.round and kind == "plane":
            canvas.desk.told.emit(f"This face is flat and has no axis; click {wants.says}.", True)
            return None
        return found

"""Pulling a point of a sketch: the sketch follows at every move, and is stored once at the end."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.base.places import curve_of
from architectonic.describe.drawn.curves import drawn_result
from architectonic.describe.drawn.drawing import numbers
from architectonic.describe.drawn.readings import XY
from architectonic.describe.results import SketchResult
from architectonic.family import edits
from architectonic.family.records import Family, Trace
from architectonic.session.sketch.sketching import Sketching, restarted


class Grip:
    """A point taken up; None is said where the sketch cannot follow."""

    def __init__(self, editing: Sketching, place: str) -> None:
        from architectonic.sketch.solving.drag import Drag  # loads with the first pull

        self.editing = editing
        sketch = editing.drawing.sketch
        curve = sketch.curves.get(curve_of(place))
        self._drag = None
        if curve is not None and not isinstance(curve, Trace):
            self._drag = Drag(numbers(sketch, editing.drawing.traced), editing.constraints(), place)
        self._records = {k: drawn_result(c) for k, c in sketch.curves.items() if not isinstance(c, Trace)}
        self._freedoms: tuple[int, frozenset[str]] | None = None

    def to(self, at: XY, steps: int = 10) -> SketchResult | None:
        """Pull towards a position; the sketch follows as far as it can, or not at all."""
        if self._drag is None or not self._drag.pull(at, steps):
            return None
        self._freedoms = self._freedoms or self._drag.freedoms()
        freedoms, free = self._freedoms
        traced = self.editing.drawing.traced or {}
        found = dict(traced)
        for key, values in self._drag.values().items():
            if key in self._records:
                found[key] = edits.replace(self._records[key], values=tuple(tolerance.length(v) for v in values))
        ordered = {k: found[k] for k in self.editing.drawing.sketch.curves if k in found}
        return SketchResult(ordered, freedoms, tuple(sorted(free)), self._drag.residual(), ())

    def stored(self, result: SketchResult) -> Family:
        """The family with the sketch where it was pulled to."""
        self.editing.drawing.sketch = restarted(self.editing.drawing.sketch, result)
        return self.editing.stored()

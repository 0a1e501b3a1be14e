"""What a document comes to as products of a neutral file: structure, names, colours, materials, data of holes."""

from __future__ import annotations

import msgspec

from architectonic.base.errors import UserFault
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.check import holes
from architectonic.check.holes import HoleRow
from architectonic.describe.assembly.plans import PlacedBody
from architectonic.describe.recipes import ExportProduct, ExportSolid
from architectonic.describe.results import BodyState, ModelState, Node
from architectonic.family import edits, scopes
from architectonic.family.records import Model, Part, use_of
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.render.palette import colour_of


class Products:
    """What a document comes to as products of a file.

    Attributes:
        products: in order, each uses only those before it; shapes: keys of the bodies that they name.
    """

    def __init__(self, evaluation: Evaluation, at: Scope, item: str = "") -> None:
        """Bodies that only stand behind are left out.

        Args:
            item: a part item by name, whose bodies alone are wanted.

        Raises:
            UserFault: there is no such item, or threads cannot be modelled.
        """
        self.evaluation, self.products, self.shapes = evaluation, list[ExportProduct](), list[str]()
        self._known: dict[object, int] = {}
        document = evaluation.family.documents.get(at.document)  # None: made since, and not evaluated yet
        placed = evaluation.value(Node("assembly", at, ""))
        if document is None:
            return
        if placed is not None:
            bodies = [b for p in placed for b in p.bodies if not _backdrop(evaluation, b)]
            self._assembly(document.name, (), bodies)
        elif isinstance(document, Model):
            wanted = _of_item(document, item) if item else set(document.bodies)
            own = [self._drawn(Node("drawn", at, b.id), b) for b in self._finished(at) if b.id in wanted]
            self._part(at, document, own, item or document.name)

    def _finished(self, at: Scope) -> tuple[BodyState, ...]:
        state = self.evaluation.value(Node("finished", at, ""))
        return state.bodies if isinstance(state, ModelState) else ()

    def _drawn(self, node: Node, body: BodyState) -> BodyState:
        """A body with the threads that are to be modelled.

        Raises:
            UserFault: they cannot be.
        """
        made = self.evaluation.outcomes.get(node)
        if made is None:  # none is asked for
            return body
        if made.problem is not None:
            where = self.evaluation.family.documents[node.document].name
            raise UserFault(made.problem.what, where, made.problem.mend)
        return msgspec.structs.replace(body, shape=made.value)

    def _part(self, at: Scope, document: Model, bodies: list[BodyState], name: str) -> int | None:
        """A part, or some bodies of it, as a product; None where it has none."""
        shown = [b for b in bodies if b.id in document.bodies and not document.bodies[b.id].backdrop_only]
        if not shown:
            return None
        return self._add(ExportProduct(name=name, solids=tuple(self._solid(at, document, b) for b in shown)))

    def _add(self, product: ExportProduct) -> int:
        self.products.append(product)
        return len(self.products) - 1

    def _solid(self, at: Scope, document: Model, body: BodyState) -> ExportSolid:
        said, family = document.bodies[body.id], self.evaluation.family
        mass, measured = (self.evaluation.value(Node(w, at, body.id)) for w in ("mass", "measure"))
        volume = measured["volume_mm3"] if measured else 0.0
        self.shapes.append(body.shape)
        return ExportSolid(
            name=said.name,
            item=next((i.name for i in getattr(document, "part_items", ()) if body.id in i.bodies and not i.apart), ""),
            shape=len(self.shapes) - 1,
            colour=scopes.said(family, at, "colour") or colour_of(document, body.id),
            material=scopes.said(family, at, "material") or said.material,
            density=float(f"{1000 * mass / volume:.9g}") if mass and volume else 0.0,
            properties=tuple(_hole_words(row) for row in holes.of_document(self.evaluation, at, (body.id,))),
        )

    def _assembly(self, name: str, path: tuple[str, ...], bodies: list[PlacedBody]) -> int:
        """What stands under some uses as a product; sub-assemblies as they stand, parts once for all their uses."""
        uses: list[tuple[int, str, Rigid]] = []
        depth = len(path)
        below: dict[str, list[PlacedBody]] = {}
        for b in bodies:
            below.setdefault(b.body.path[depth], []).append(b)
        for key, inner in below.items():
            called = self._called(key)
            if any(len(b.body.path) > depth + 1 for b in inner):
                uses.append((self._assembly(called, (*path, key), inner), called, IDENTITY))
                continue
            for stands in dict.fromkeys(b.stands for b in inner):
                product = self._placed([b for b in inner if b.stands == stands])
                uses += [(product, called, stands)] if product is not None else []
        return self._add(ExportProduct(name=name, uses=tuple(uses)))

    def _placed(self, bodies: list[PlacedBody]) -> int | None:
        """A part where it is used, as its assembly works on it further."""
        part = self.evaluation.family.documents[bodies[0].body.document]
        assert isinstance(part, Model)
        states = [(b, s) for b in bodies for s in self._finished(b.source) if s.id == b.item]
        found = {b.body.body: self._drawn(b.node("drawn"), s) for b, s in states}
        at = bodies[0].body.at
        row = tuple(scopes.said(self.evaluation.family, at, f) for f in ("colour", "material"))
        same = (part.id, row, *((k, s.shape) for k, s in sorted(found.items())))
        if same not in self._known:
            own = [msgspec.structs.replace(s, id=key) for key, s in found.items()]
            made = self._part(at, part, own, part.name)
            if made is None:
                return None
            self._known[same] = made
        return self._known[same]

    def _called(self, key: str) -> str:
        """What a use is called."""
        own, number = use_of(key)
        for document in self.evaluation.family.documents.values():
            name = next((i.name for i in getattr(document, "instances", ()) if i.id == own), "")
            if name:
                return f"{name} {number + 1}" if number else name
        return own


def _hole_words(row: HoleRow) -> tuple[str, str]:
    """The data of holes as a property: its name, and each figure after its word."""
    data = holes.entry(row)
    told = [f"{k} {_plain(v)}" for k, v in data.items() if v not in (None, "", False) and k != "operation"]
    return f"Holes: {row.holes.name}", "; ".join(told)


def _plain(value: object) -> str:
    if isinstance(value, list):
        return (
            " / ".join(_plain(v) for v in value)
            if value and isinstance(value[0], list)
            else " ".join(map(_plain, value))
        )
    return f"{value:.9g}" if isinstance(value, float) else "yes" if value is True else str(value)


def has_bodies(evaluation: Evaluation, at: Scope) -> bool:
    """Whether a document has anything to write that is solid."""
    placed = evaluation.value(Node("assembly", at, ""))
    if placed is not None:
        return any(not _backdrop(evaluation, b) for p in placed for b in p.bodies)
    state, document = evaluation.value(Node("finished", at, "")), evaluation.family.documents.get(at.document)
    known = document.bodies if isinstance(document, Model) else {}
    there = state.bodies if isinstance(state, ModelState) else ()
    return any(b.id in known and not known[b.id].backdrop_only for b in there)


def _of_item(document: Model, name: str) -> set[str]:
    """Ids of the bodies of a part item, and of those under it."""
    items = document.part_items if isinstance(document, Part) else ()
    key = next((i.id for i in items if name in (i.name, i.number)), "")
    if not isinstance(document, Part) or not key:
        known = ", ".join(i.name for i in items) or "none"
        raise UserFault(f"there is no part item “{name}”", document.name, f"items are {known}")
    return {b for i in edits.below(document, key) for b in i.bodies}


def _backdrop(evaluation: Evaluation, body: PlacedBody) -> bool:
    document = evaluation.family.documents.get(body.body.document)
    return isinstance(document, Model) and document.bodies[body.body.body].backdrop_only

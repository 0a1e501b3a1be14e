"""What plans see of a family: records by id, and which scope a reference leads to."""

from __future__ import annotations

from typing import Any

from architectonic.describe.results import Node, NodeFault, fault
from architectonic.family import names, scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import (
    PARENT,
    SELF,
    STANDARD,
    STANDARD_PLANES,
    After,
    AnyDocument,
    Expression,
    Family,
    Model,
    Reference,
    Socket,
    Valued,
    ValueRef,
)
from architectonic.family.scopes import Scope
from architectonic.family.walk import index
from architectonic.quantities.compiled import Compiled, Kind, compile_expression
from architectonic.quantities.nodes import ExpressionFault
from architectonic.quantities.units import NUMBER, Dimension


class View:
    """A family as plans read it. A plan may look at its own document and at sizes and rows of others, nothing else:
    the evaluator relies on this to know what to look at again.
    """

    def __init__(self, family: Family) -> None:
        self.family = family

    def document(self, node: Node) -> AnyDocument:
        """The node's document."""
        return self.family.documents[node.document]

    def record(self, node: Node) -> Any:
        """The record of the node's item, or a fault saying that it is gone."""
        document = self.family.documents.get(node.document)
        found = index(document).get(node.item) if document else None
        if found is None:
            raise fault("source.missing", "its source is gone", "point it at another one", "missing")
        return found

    def model(self, node: Node) -> Model:
        """The node's document, which has a build list."""
        document = self.document(node)
        assert isinstance(document, Model)
        return document

    def source(self, node: Node, of: str, configuration: str, alternate: str = "") -> Scope:
        """The scope that a reference standing at `node` takes from."""
        document = node.document if of == SELF else of
        if document not in self.family.documents:
            raise fault("source.missing", "the document it takes from is gone", "point it at another one", "missing")
        if alternate and not self.has_alternate(document, alternate):
            raise fault("source.missing", "the alternate that it takes is gone", "choose another one", "missing")
        if configuration == PARENT and scopes.parent_of(self.family, node.at) is None:
            raise fault(
                "row.no_parent", "it is the child of no configuration", "write another value, or make it a child"
            )
        return scopes.source_scope(self.family, node.at, document, configuration, alternate)

    def configurations(self, node: Node, of: str) -> set[str]:
        """Ids of every configuration of a source, by size or by row."""
        document = node.document if of == SELF else of
        if document not in self.family.documents:
            raise fault("source.missing", "the document it takes from is gone", "point it at another one", "missing")
        rows = self.family.documents[document].configurations
        return {r.id for r in rows} | {s.id for s in scopes.sizes(self.family)}

    def has_alternate(self, of: str, alternate: str) -> bool:
        """Whether an alternate of a document is there."""
        document = self.family.documents.get(of)
        return document is None or any(a.id == alternate for a in scopes.alternates(document))

    def previous(self, node: Node, operation_id: str) -> Node | None:
        """The state that an operation is given: after the last body operation before it."""
        last = None
        for operation in self.model(node).build:
            if operation.id == operation_id:
                break
            if isinstance(operation, BodyOperation):
                last = operation.id
        return None if last is None else Node("state", node.at, last)

    def state_of(self, node: Node, at: Scope, reference: Reference, standing: str) -> Node | None:
        """The state node that a reference to a body or to a face of an operation means.

        Args:
            at: the scope it takes from.
            standing: id of the operation that the reference stands in, for the stage "here".
        """
        if reference.stage == "here":
            return self.previous(node, standing)
        if isinstance(reference.stage, After):
            return Node("state", at, reference.stage.after)
        return Node("finished", at, "")

    # --- expressions ----------------------------------------------------------------------------------

    def value_nodes(self, node: Node, expression: Expression) -> dict[str, Node]:
        """The value node behind each name of an expression."""
        found = {}
        for key, ref in expression.refs.items():
            try:
                found[key] = Node("value", self.source(node, ref.document, ref.configuration, ref.alternate), ref.item)
            except NodeFault as problem:
                if problem.problem.code == "row.no_parent":
                    raise fault("row.no_parent", f"{key}: {problem.problem.what}", problem.problem.mend) from problem
                raise fault(
                    "source.missing", f"“{key}” has lost its source", "type the expression again", "missing"
                ) from problem
        return found

    def compiled(
        self, node: Node, expression: Expression, expected: Kind | None, own: tuple[str, ...] = ()
    ) -> Compiled:
        """The compiled expression, dimensions taken from what its names refer to; `own` names are plain numbers."""
        kinds = {key: self._dimension(node, key, ref) for key, ref in expression.refs.items()}
        kinds |= dict.fromkeys(own, NUMBER)
        try:
            return compile_expression(expression.text, kinds, expected)
        except ExpressionFault as problem:
            raise fault("expression.invalid", problem.what, problem.mend) from None

    def _dimension(self, node: Node, key: str, ref: ValueRef) -> Dimension:
        # The quantity of a source is part of its document; the evaluator counts such looks as reads of its value.
        document = self.family.documents.get(node.document if ref.document == SELF else ref.document)
        item = index(document).get(ref.item) if document else None
        if not isinstance(item, Valued):
            raise fault("source.missing", f"“{key}” has lost its source", "type the expression again", "missing")
        return names.dimension_of(item)

    def where(self, node: Node) -> str:
        """A readable path of a node: document and item."""
        document = self.family.documents.get(node.document)
        if document is None:
            return "a document that is gone"
        name = name_in(document, node.item)
        return f"{document.name} / {name}" if name else document.name


def name_in(document: AnyDocument, item: str) -> str:
    """What people call something of a document; "" for what has no name."""
    record = index(document).get(item)
    return _fed(document, item, record) if isinstance(record, Socket) else str(getattr(record, "name", ""))


def _fed(document: AnyDocument, key: str, socket: Socket) -> str:
    """One thing of a feed: `Foot outline, curve 2`."""
    feed = next((f for f in getattr(document, "feeds", {}).values() if key in f.sockets), None)
    if feed is None:
        return socket.takes
    alike = [k for k, s in feed.sockets.items() if s.takes == socket.takes]
    return f"{feed.name}, {socket.takes}{f' {alike.index(key) + 1}' if len(alike) > 1 else ''}"


def is_standard(reference: Reference) -> bool:
    """Whether a reference means something that every document has by itself."""
    return reference.of == SELF and reference.item in STANDARD


def is_standard_plane(reference: Reference) -> bool:
    """Whether a reference means one of the document's own three planes."""
    return reference.of == SELF and reference.item in STANDARD_PLANES

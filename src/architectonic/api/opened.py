"""An open family: documents by name, questions answered by a living engine, undo, files."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from pathlib import Path
from types import TracebackType
from typing import Any

from architectonic.api.assemblies import document_for
from architectonic.api.documents import Document
from architectonic.base.errors import UserFault
from architectonic.base.folders import cache_folder
from architectonic.base.ids import IdSource, new_id, seeded
from architectonic.check.attention import attention
from architectonic.check.cells import entries
from architectonic.check.impact import impact
from architectonic.check.report import attention_entries, report, rule_entries
from architectonic.describe.results import Node
from architectonic.exchange import folder
from architectonic.family import edits, scopes
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import Look, all_scopes
from architectonic.session.files import outside
from architectonic.session.files.export import Writing, export
from architectonic.session.files.meshing import FINE, Fineness
from architectonic.session.open.engine import Engine
from architectonic.session.open.queries import ask
from architectonic.session.open.session import Session
from architectonic.session.open.whatif import find_configuration, with_values


class OpenFamily:
    """A family that is open: `with` closes its engine. Names are those that people gave; every edit can be undone.

    Args:
        session: the family and its history.
        store: folder for shapes and results; the user's cache folder by default.
        kept: whether it lies in a folder already.
        new_id: where ids come from; a seeded source makes the same family every time.
    """

    def __init__(
        self, session: Session, store: str | Path | None = None, kept: bool = True, new_id: IdSource = new_id
    ) -> None:
        self.new_id = new_id
        self.session, self._kept = session, kept
        self._store = Path(store) if store is not None else None
        self._engine: Engine | None = None

    def __enter__(self) -> OpenFamily:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, value: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    def close(self) -> None:
        """End the engine; what is not saved is gone."""
        if self._engine is not None:
            self._engine.close()
            self._engine = self.session.evaluator = None

    @property
    def engine(self) -> Engine:
        """The engine, started when it is first needed and kept until the family is closed."""
        if self._engine is None:
            self._engine = Engine.start(self._store or cache_folder())
            self.session.evaluator = self._engine.evaluator
        return self._engine

    @property
    def family(self) -> Family:
        """The family as immutable data."""
        return self.session.family

    # --- documents ------------------------------------------------------------------------------------

    @property
    def folder(self) -> Path | None:
        """Where it is stored; None while it is in no folder."""
        stored = self.session.stored
        return stored.folder if stored.files else None

    def from_file(self, file: str | Path, name: str) -> Any:
        """A part for every product of a STEP file, and an assembly in which they stand as the file has them.

        Args:
            name: of the assembly.

        Raises:
            UserFault: the file cannot be used, or the name is taken.
        """
        assert self.engine is not None  # it looks into files
        looked = outside.look(Path(file))
        self.edit(
            f"parts of {looked.file.name}", lambda f: outside.as_parts(f, looked, name, self.folder, self.new_id)[0]
        )
        return self[name]

    def __getitem__(self, name: str) -> Any:
        """A document by name or identifier.

        Raises:
            UserFault: there is none; says the nearest.
        """
        return document_for(self, edits.find_document(self.family, name).id)

    def __iter__(self) -> Iterator[Document]:
        return iter([document_for(self, key) for key in self.family.documents])

    def __contains__(self, name: str) -> bool:
        return any(d.name == name for d in self.family.documents.values())

    def add(self, kind: str, name: str) -> Any:
        """A new document of a kind: table, layout, master, part, assembly, or one of another package.

        Raises:
            UserFault: an unknown kind, or a name that is taken.
        """
        made: list[str] = []

        def edit(family: Family) -> Family:
            family, key = edits.add_document(family, kind, name, self.new_id)
            made.append(key)
            return family

        self.session.apply(f"new {kind} {name}", edit)
        return document_for(self, made[0])

    def table(self, name: str) -> Any:
        """A new table."""
        return self.add("table", name)

    def layout(self, name: str) -> Any:
        """A new layout."""
        return self.add("layout", name)

    def master(self, name: str) -> Any:
        """A new master."""
        return self.add("master", name)

    def part(self, name: str) -> Any:
        """A new part."""
        return self.add("part", name)

    def assembly(self, name: str) -> Any:
        """A new assembly."""
        return self.add("assembly", name)

    # --- values and edits -----------------------------------------------------------------------------

    def set(self, name: str, text: str) -> None:
        """Type a value: `set("Sizes.wall", "2.6 mm")`, in one size `set("Sizes.wall@M", "2.6 mm")`.

        Raises:
            UserFault: an unknown name or size, or a text that cannot be used; nothing changed.
        """
        _text(text, name)
        self.session.apply(f"{name} = {text}", lambda f: with_values(f, [f"{name}={text}"]))

    def edit(self, label: str, change: Callable[[Family], Family]) -> None:
        """Carry out any function from family to family, as one step that can be undone."""
        self.session.apply(label, change)

    def undo(self) -> str:
        """Take the last edit back; its name, "" when there was none."""
        label = self.session.history.undo_label
        return label if label and self.session.undo() else ""

    def redo(self) -> str:
        """Bring an undone edit back; its name, "" when there was none."""
        label = self.session.history.redo_label
        return label if label and self.session.redo() else ""

    # --- questions ------------------------------------------------------------------------------------

    def evaluate(self, documents: tuple[str, ...] = (), size: str = "", pictured: bool = False) -> Evaluation:
        """Values, sketches, bodies and measurements of some documents (all by default), in one size or in all.

        Args:
            documents: names; pictured: triangles of their bodies too.
        """
        engine, wanted = self.engine, self.scopes(documents, size)
        looks = tuple(Look(at) for at in wanted) if pictured else ()
        assert engine is not None
        return self.session.evaluate(wanted, looks)

    def known(self, *nodes: Node) -> Evaluation:
        """What a few nodes come to, without starting an engine for what needs no geometry."""
        return ask(self.family, nodes)

    def scopes(self, documents: tuple[str, ...] = (), size: str = "") -> list[Scope]:
        """Documents by name in one size or in all."""
        family = self.family
        keys = tuple(edits.find_document(family, n).id for n in documents)
        if size and keys:
            rows = {k: find_configuration(family, k, size) for k in keys}
            return [
                s for k in keys for s in scopes.scopes_of(family, family.documents[k]) if s.configuration == rows[k]
            ]
        if size and all(s.name != size for s in scopes.sizes(family)):
            raise UserFault(
                f"there is no size “{size}”", "", "sizes are " + ", ".join(s.name for s in scopes.sizes(family))
            )
        return all_scopes(family, keys, size)

    def report(self, *documents: str, size: str = "") -> dict[str, Any]:
        """All that is known, as `architectonic build --json` prints it; of some documents, in one size, when asked."""
        wanted = self.scopes(documents, size)
        found = self.evaluate(documents, size)
        return report(found, tuple(dict.fromkeys(at.document for at in wanted)), tuple(wanted))

    def check(self) -> dict[str, Any]:
        """Rules, and everything that needs attention, over all configurations, as `architectonic check --json` prints it."""
        found = self.evaluate()
        return {"rules": rule_entries(found), "attention": attention_entries(found), "checks": entries(found)}

    def impact(self, change: Mapping[str, str] | Callable[[Family], Family]) -> dict[str, Any]:
        """What an edit would do everywhere, without doing it, as `architectonic impact --json` prints it.

        Args:
            change: values by name, as of `set`, or a function from family to family.
        """
        if isinstance(change, Mapping):
            settings = [f"{name}={_text(text, name)}" for name, text in change.items()]
            return self._impact(lambda f: with_values(f, settings))
        return self._impact(change)

    def _impact(self, change: Callable[[Family], Family]) -> dict[str, Any]:
        before, proposed = self.evaluate(), change(self.family)
        return impact(before, self.session.evaluate(family=proposed))

    # --- files ----------------------------------------------------------------------------------------

    def save(self, path: str | Path = "") -> None:
        """Write what differs; with another path all of it, with its pictures and tables, into a new folder, and go on there.

        Raises:
            UserFault: it lies in no folder yet and none is named, the new folder holds something, or others changed it
                meanwhile.
        """
        if not self._kept and not path:
            raise UserFault("this family lies in no folder yet", self.family.head.name, "name one: save(“brackets”)")
        if self._kept and (not path or Path(path).resolve() == self.session.stored.folder.resolve()):
            self.session.save()
            return
        self.session.save_as(Path(path))
        self._kept = True

    def export(
        self, document: str, path: str | Path, size: str = "", sketch: str = "", alternate: str = "", item: str = "",
        chord: float = FINE.chord, angle: float = FINE.angle, down: str = "", face: str = "", kerf: str = "",
    ) -> list[str]:  # fmt: skip
        """Write a document in one size and alternate, its first ones by default; the format follows the ending: .step, .stl,
        .3mf, .glb, .dxf, .csv, .xlsx; of a part one part item alone where it is named.

        Args:
            sketch: of a drawing. chord, angle: how far facets may miss a face, mm, and turn from one to the next, rad.
            down: what is turned down: "x", "-x", ..., or a flat face such as "Block:end".
            face: the flat face whose outline a drawing is; kerf: the width of the cut beside it, as an expression.

        Returns:
            What needs attention in it.
        """
        at = self._one(document, size, alternate)
        found = self.evaluate((document,), self.name_of(at))
        wish = Writing(sketch, item, Fineness(chord, angle), down, face, kerf)
        export(self.engine, found, at, Path(path), wish)
        return [f"{i.where}: {i.what}" for i in attention(found)]

    def picture(
        self,
        document: str,
        path: str | Path,
        size: str = "",
        view: str = "isometric",
        pixels: tuple[int, int] = (1280, 800),
        alternate: str = "",
    ) -> None:
        """Draw a document in one size and alternate and write it as PNG."""
        from architectonic.render.pictures import picture_of

        at = self._one(document, size, alternate)
        found = self.evaluate((document,), self.name_of(at), pictured=True)
        picture_of(found, at, view, *pixels, Path(path))

    def _one(self, document: str, size: str, alternate: str) -> Scope:
        at = self.scopes((document,), size)[0]
        key = edits.find_alternate(self.family, at.document, alternate) if alternate else at.alternate
        return at._replace(alternate=key)

    def name_of(self, at: Scope) -> str:
        """The name of a configuration."""
        rows = scopes.configurations(self.family, self.family.documents[at.document])
        return dict(rows)[at.configuration]


def _text(text: object, name: str) -> str:
    if not isinstance(text, str):
        raise UserFault(f"{text!r} is no expression", name, f"write it as text with its unit, such as “{text} mm”")
    return text


def open_family(path: str | Path, store: str | Path | None = None) -> OpenFamily:
    """Open a family folder.

    Raises:
        UserFault: it is none, or holds something that cannot be read; says what and where.
    """
    return OpenFamily(Session(folder.load(Path(path))), store)


def new(name: str, sizes: tuple[str, ...] = (), store: str | Path | None = None, seed: int | None = None) -> OpenFamily:
    """A new family with named sizes, in no folder yet.

    Args:
        seed: makes the same ids every time; None for new ones.
    """
    given: object = sizes
    if isinstance(given, str):
        raise UserFault(f"sizes are several names, not the text “{given}”", name, "write sizes=(“S”, “M”)")
    make_id = new_id if seed is None else seeded(seed)
    family = edits.new_family(name, tuple(sizes), make_id)
    return OpenFamily(Session(folder.Stored(Path(), family, {})), store, False, make_id)

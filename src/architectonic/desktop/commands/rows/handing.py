"""Handing out: one document or a whole range, built, looked at and written."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtWidgets import QFileDialog

from architectonic.base.cancel import Watch
from architectonic.base.errors import UserFault
from architectonic.describe.words.blanks import counted
from architectonic.desktop.commands.rows.shown import OfShown
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.exchange import apart, spreadsheet
from architectonic.exchange.spreadsheet import Grid
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units
from architectonic.quantities.compiled import complete, fixed_value
from architectonic.session.files import products
from architectonic.session.files.export import FORMATS, MESHES, Job, Writing, export, facets_of, write_whole
from architectonic.session.files.meshing import WAYS, Fineness, Meshed
from architectonic.session.open.queries import whole
from architectonic.session.ranges import building, sheets
from architectonic.session.ranges.building import Far, RangeBuilt
from architectonic.session.ranges.catalogue import write_catalogue
from architectonic.session.ranges.rows import rows

FINE, TURNING, STANDS = "fine for printing, 0.1 mm", "10 deg", "as it stands"
KINDS = {"STEP": ".step", "STL": ".stl", "3MF": ".3mf", "glTF, for pictures": ".glb"}
FACETTED = [kind for kind, ending in KINDS.items() if ending in MESHES]
OUTLINE = "DXF, outline of the picked face"
SHEETS = "Spreadsheets (*.csv *.xlsx)"


class Variant(NamedTuple):
    """What is handed out: a family, what was typed and not kept in words ("" for nothing), and a scope."""

    family: Family
    typed: str
    at: Scope


class HandingCommands(OfShown):
    """Callbacks about files of the shown document and of its range."""

    def __init__(self, desk: Desk, prompt: Prompt, cards: ListCard) -> None:
        self.desk, self.prompt, self.cards = desk, prompt, cards

    def actions(self) -> list[Action]:
        """The actions that write files."""
        ranged = self._has
        return [
            Action("document.export", "Export…", self.ask_export, self.has_bodies, "Ctrl+E", "document", short="Export…", also=("save as", "step", "stl", "3mf", "gltf", "print", "dxf", "laser"), tells="STEP, STL, 3MF, glTF, or the outline of a face.", wants="wants a body"),
            Action("range.build", "Build the range", self.build, ranged, "Ctrl+Shift+B", "document", short="Build all", also=("all configurations", "batch"), tells="Every row built and checked; what is wrong by its cause.", wants="wants a document"),
            Action("range.write", "Hand out the range…", self.ask_write, ranged, menu="document", short="Hand out…", also=("catalogue", "export all", "pdf", "xlsx"), tells="A file for each row, and the catalogue with pictures.", wants="wants a document"),
            Action("range.bring", "Bring a spreadsheet into the range…", self.ask_in, ranged, short="Bring in…", also=("import", "csv", "xlsx", "excel"), tells="The difference is shown first.", wants="wants a document"),
            Action("range.send", "Write the range as a spreadsheet…", self.ask_out, ranged, short="Write…", also=("export", "csv", "xlsx"), tells="As it is typed, with what came of it.", wants="wants a document"),
        ]  # fmt: skip

    def has_bodies(self) -> bool:
        """Whether the shown document can be exported."""
        at, evaluation = self.desk.main.at, self.desk.settled
        return at is not None and evaluation is not None and products.has_bodies(evaluation, at)

    # --- one document ---------------------------------------------------------------------------------

    def variant(self) -> Variant | None:
        """What is shown: what is typed but not kept, where something is."""
        at, desk = self.desk.main.at, self.desk
        if at is None:
            return None
        if desk.previewed is not None and desk.previewed is desk.foresight.family:
            return Variant(desk.previewed, desk.foresight.label, at)
        return Variant(desk.family, "", at)

    def ask_export(self) -> None:
        """Ask for the format, and how fine facets are."""
        of = self.variant()
        if of is None:
            return
        name, face = of.family.documents[of.at.document].name, self._face()
        kinds = [*KINDS, *([OUTLINE] if face else [])]
        ways = [STANDS, *(["the picked face down"] if face else []), *(f"{w} down" for w in WAYS)]

        def done(kind: str, chord: str, angle: str, way: str, kerf: str) -> bool:
            try:
                down = face if "picked" in way else way.removesuffix(" down")
                found = writing(chord, angle, down, face, kerf, kind)
            except UserFault as fault:
                self.desk.told.emit(fault.sentence, True)
                return False
            self._look(of, kind, found)
            return True

        title = f"Export {name}" + (f", with {of.typed}, which is not kept" if of.typed else "")
        self.prompt.ask(
            title,
            [
                ("as", kinds),
                ("facets within", FINE),
                ("turning at most", TURNING),
                ("lying", ways),
                ("width of the cut", "0 mm"),
            ],
            done,
            "Look",
            {"facets within": FACETTED, "turning at most": FACETTED, "lying": KINDS, "width of the cut": [OUTLINE]},
        )

    def _face(self) -> str:
        """Label of the picked flat face."""
        picked = self.desk.main.picks
        return next((p.label for p in picked if p.kind == "face" and not p.body.path), "")

    def _evaluated(self, of: Variant) -> Evaluation:
        return whole(self.desk.engine.aside().evaluator, of.family, [of.at])

    def _look(self, of: Variant, kind: str, found: Writing) -> None:
        """What is about to be written: of facets how many, how large, how far off."""
        ending = ".dxf" if kind == OUTLINE else KINDS[kind]
        if ending not in MESHES:
            self._save(of, ending, found)
            return

        def work(watch: Watch) -> Meshed:
            job = Job(self.desk.engine.aside(), self._evaluated(of), of.at, Path(f"x{ending}"), found)
            watch.at(0.5)
            return facets_of(job)

        def told(meshed: Meshed) -> None:
            data = MESHES[ending](of.family.documents[of.at.document].name, meshed.parts)
            off = units.shown(meshed.misses, "mm", 3)
            title = f"{kind}: {meshed.triangles:,} triangles, {_bytes(len(data))}, at most {off} off"
            again = partial(self._again, of, kind, found)
            self.prompt.offer(
                title,
                [
                    ("Write…", partial(self._save, of, ending, found, data)),
                    ("Finer", partial(again, 0.5)),
                    ("Coarser", partial(again, 2.0)),
                ],
            )

        self.desk.work.run("Making facets", work, told)

    def _again(self, of: Variant, kind: str, found: Writing, times: float) -> None:
        fine = found.fineness._replace(chord=found.fineness.chord * times)
        self._look(of, kind, found._replace(fineness=fine))

    def _save(self, of: Variant, ending: str, found: Writing, data: bytes = b"") -> None:
        name = of.family.documents[of.at.document].name
        kind = FORMATS[ending].title
        file, _ = QFileDialog.getSaveFileName(
            self.prompt.window(), f"Export as {kind}", f"{name}{ending}", f"{kind} (*{ending})"
        )
        if file:
            self.write(of, Path(file), found, data)

    def write(self, of: Variant, file: Path, found: Writing, data: bytes = b"") -> None:
        """Write a file beside the event loop.

        Args:
            data: what was looked at already; empty where it is still to be made.
        """

        def work(watch: Watch) -> int:
            if data:
                write_whole(file, lambda part: part.write_bytes(data))
                return len(data)
            evaluation = self._evaluated(of)
            watch.at(0.5)
            export(self.desk.engine.aside(), evaluation, of.at, file, found)
            return file.stat().st_size

        def done(size: int) -> None:
            bad = [i for i in self.desk.attention if i.document == of.at.document] if not of.typed else []
            told = f"Wrote {file}, {_bytes(size)}"
            told += f"; {len(bad)} of its operations fail" if bad else ""
            self.desk.told.emit(told + (f"; {of.typed} is not kept" if of.typed else ""), bool(bad))

        self.desk.work.run(f"Writing {file.name}", work, done)

    # --- the range ------------------------------------------------------------------------------------

    def build(self) -> None:
        """Build every row; what is wrong is listed by its cause."""
        self._built(self._tell)

    def _built(self, then: Callable[[RangeBuilt], object]) -> None:
        family, key = self.desk.family, self.desk.main.document_id

        def work(watch: Watch) -> RangeBuilt:
            def told(far: Far) -> None:
                left = "" if far.seconds is None else f", about {far.seconds:.0f} s"
                watch.at(far.done / far.most if far.most else 0.0, f"{far.done} of at most {far.most}{left}")

            return building.build(self.desk.engine.aside().evaluator, family, key, (), watch.token, told)

        count = len(rows(family, family.documents[key]))
        self.desk.work.run(f"Building {counted(count, 'configuration')}", work, then)

    def _tell(self, made: RangeBuilt) -> None:
        """What came of it, and what can be done with it."""
        document = made.evaluation.family.documents[made.document]
        states = [r.state for r in made.rows]
        good = states.count("current")
        told = f"{document.name}: {good} of {counted(len(states), 'configuration')} as they should be"
        told += f", {states.count('out of rule')} out of rule" if "out of rule" in states else ""
        told += f", {states.count('failing')} failing" if "failing" in states else ""
        told += f"; {made.evaluation.work.computed} pieces of work were made, {made.evaluation.work.reused} were there"
        listed = [
            ((i.where, i.what, ", ".join(i.configurations), i.mend), partial(self.desk.show, i.document))
            for i in made.causes
        ]
        choices = [("Hand out…", partial(self._ask_files, made))] if made.good else []
        self.cards.start(told, ("where", "what", "in", "mend"), listed, choices)

    def ask_write(self) -> None:
        """Build, then ask as what."""
        self._built(self._ask_files)

    def _ask_files(self, made: RangeBuilt) -> None:
        kinds = [k for k, e in KINDS.items() if e in (".step", ".stl", ".3mf")]
        out = [r for r in made.rows if r.state == "failing"]

        def done(kind: str, pattern: str, chord: str, angle: str) -> bool:
            try:
                names = building.file_names(made, pattern)
                found = writing(chord, angle, STANDS, "", "", kind)
            except UserFault as fault:
                self.desk.told.emit(fault.sentence, True)
                return False
            first = next(iter(names.values()))
            folder = QFileDialog.getExistingDirectory(
                self.prompt.window(), f"A folder for {first}{KINDS[kind]} and the others"
            )
            if folder:
                self.write_files(made, Path(folder), KINDS[kind], pattern, found)
            return True

        title = f"Hand out {counted(len(made.good), 'configuration')}"
        title += f"; {len(out)} cannot be built and are left out" if out else ""
        self.prompt.ask(
            title,
            [
                ("as", kinds),
                ("files named", "{document} {name}"),
                ("facets within", FINE),
                ("turning at most", TURNING),
            ],
            done,
            "Choose a folder",
            {"facets within": FACETTED, "turning at most": FACETTED},
        )

    def write_files(self, made: RangeBuilt, folder: Path, ending: str, pattern: str, found: Writing) -> None:
        """Write all files and the catalogue beside the event loop: all of them, or none."""

        def work(watch: Watch) -> list[Path]:
            return building.write_files(
                self.desk.engine.aside(), made, folder, ending, pattern, found,
                [lambda f: write_catalogue(made, f, lambda s: watch.at(0.6 + 0.4 * s, "pictures of the catalogue"))],
                watch.token, lambda s: watch.at(0.6 * s, f"{round(s * len(made.good))} of {len(made.good)} files"),
            )  # fmt: skip

        def done(paths: list[Path]) -> None:
            self.desk.told.emit(f"Wrote {len(paths)} files to {folder}", False)

        self.desk.work.run(f"Writing {counted(len(made.good), 'file')}", work, done)

    # --- spreadsheets ---------------------------------------------------------------------------------

    def ask_out(self) -> None:
        """Ask for a file."""
        document = self.desk.main.document
        if document is not None:
            name = f"{document.name}.xlsx"
            file, _ = QFileDialog.getSaveFileName(
                self.prompt.window(), "Write the range", name, "Workbook (*.xlsx);;CSV (*.csv)"
            )
            if file:
                self.send(Path(file))

    def send(self, file: Path) -> bool:
        """Write the range."""
        document = self.desk.main.document
        assert document is not None
        rows = sheets.sheet_of_range(self.desk.family, self.desk.settled, document)
        done = self.desk.attempt(lambda: spreadsheet.write(file, rows))
        if done:
            self.desk.told.emit(f"Wrote {counted(len(rows) - 1, 'configuration')} to {file}", False)
        return done

    def ask_in(self) -> None:
        """Ask for a file."""
        file, _ = QFileDialog.getOpenFileName(self.prompt.window(), "Bring a spreadsheet into the range", "", SHEETS)
        if file:
            self.bring(Path(file))

    def bring(self, file: Path) -> None:
        """Show what a spreadsheet would change; it is taken when that is accepted."""
        key = self.desk.main.document_id
        self.desk.work.run(
            f"Reading {file.name}",
            lambda watch: apart.spreadsheet(file, "", watch),
            lambda grid: self.desk.attempt(lambda: self._compare(key, file, grid)),
        )

    def _compare(self, key: str, file: Path, grid: Grid) -> None:
        found = sheets.compare(self.desk.family, key, grid)
        listed: list[tuple[tuple[str, ...], None]] = [
            (("cannot be used", at, "", what), None) for at, what in found.faults
        ]
        listed += [((n, "is new", "", f"child of {p}" if p else "follows none"), None) for n, p in found.fresh]
        listed += [((c.row, c.title, c.before or "follows", c.after or "follows"), None) for c in found.changes]
        listed += [((n, "is only here", "", "stays as it is"), None) for n in found.only_here]
        listed += [((h, "is no column here", "", "passed over"), None) for h in found.passed]
        many = len(found.changes) + len(found.fresh)
        told = f"{file.name}: " + (
            "says the same as this range" if not many else f"{counted(len(found.changes), 'cell')} differ"
        )
        told += f", {counted(len(found.fresh), 'row')} new" if found.fresh else ""
        told += f", {len(found.faults)} cannot be used" if found.faults else ""
        take = partial(self.desk.apply, f"take {file.name}", lambda f: sheets.take(f, key, found))
        self.cards.start(
            told,
            ("row", "column", "here", "in the file"),
            listed,
            [("Take what differs", take)] if many else [],
            "Leave it",
        )


def writing(chord: str, angle: str, down: str, face: str, kerf: str, kind: str) -> Writing:
    """What was asked for.

    Raises:
        UserFault: it is no length, or no angle.
    """
    text = "0.1 mm" if chord.strip() in (FINE, "") else chord
    within = fixed_value(complete(text, "length", "mm"), "length")
    turning = fixed_value(complete(angle, "angle", "deg"), "angle")
    if not 0.0 < turning <= math.pi / 2:
        raise UserFault(f"facets cannot turn by {angle}", "", "give an angle above 0 and up to 90 deg")
    cut = kind == OUTLINE
    return Writing(
        fineness=Fineness(within, turning),
        down="" if down == STANDS else down,
        face=face if cut else "",
        kerf=kerf if cut and kerf.strip() not in ("", "0", "0 mm") else "",
    )


def _bytes(size: int) -> str:
    return f"{size / 1e6:.1f} MB" if size >= 1e6 else f"{max(1, size // 1000)} kB"

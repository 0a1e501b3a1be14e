"""The catalogue of a range that is built: its columns and a picture of each row, all at one scale."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from architectonic.describe.words.blanks import counted
from architectonic.exchange import spreadsheet
from architectonic.exchange.catalogue import Catalogue, CatalogueRow, rows_of, write_pdf
from architectonic.family import scopes
from architectonic.family.names import identifier
from architectonic.family.scopes import Scope
from architectonic.propagate.ports import LATER
from architectonic.render.small import scale_of, shaded
from architectonic.session.open.queries import variant
from architectonic.session.ranges.building import RangeBuilt
from architectonic.session.ranges.columns import shown_columns
from architectonic.session.ranges.seen import seen

WIDE, HIGH = 480, 296
"""Of a picture, pixels."""
GROUND = "#FDFCF9"


def catalogue(made: RangeBuilt, told: Callable[[float], object] = lambda _: None) -> Catalogue:
    """What is shown of every row."""
    evaluation = made.evaluation
    family = evaluation.family
    document = family.documents[made.document]
    columns = shown_columns(family, document)
    at = {r.key: Scope(document.id, r.key, scopes.alternate_of(document)) for r in made.rows}
    scale = scale_of(evaluation, list(at.values()), WIDE / HIGH)
    found, asked = [], variant(LATER)
    for n, row in enumerate(made.rows):
        cells = tuple(c.shown(family, evaluation, at[row.key]).text for c in columns)
        shown = seen(asked, family, at[row.key]) if row.state != "failing" else []
        picture = shaded([(m, c) for _, m, c in shown], WIDE, HIGH, GROUND, scale) if shown else None
        number = scopes.said(family, at[row.key], "number")
        state = row.state if row.state != "current" else ""
        found.append(CatalogueRow(row.name, "  ".join(t for t in (number, state) if t), cells, picture))
        told((n + 1) / len(made.rows))
    note = f"{family.head.name}, {counted(len(found), 'configuration')}"
    return Catalogue(document.name, note, tuple((c.title, c.unit) for c in columns), tuple(found))


def write_catalogue(made: RangeBuilt, folder: Path, told: Callable[[float], object] = lambda _: None) -> None:
    """Its workbook and its PDF.

    Raises:
        OSError: they cannot be written.
    """
    of = catalogue(made, told)
    name = f"{identifier(of.title)}-catalogue"
    spreadsheet.write(folder / f"{name}.xlsx", rows_of(of))
    write_pdf(folder / f"{name}.pdf", of)

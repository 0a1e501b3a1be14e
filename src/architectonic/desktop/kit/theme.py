"""Colours by role, type and the style sheet; the one place where the window's look is decided."""

from __future__ import annotations

from functools import lru_cache
from importlib.resources import files

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QFontMetricsF, QPen
from PyQt6.QtWidgets import QApplication

PAPER, PANEL, FIELD = "#F7F5F0", "#ECE8DF", "#FDFCF9"
LINE, HAIR, EDGE = "#CFC8BA", "#DFD9CD", "#B9B1A2"
INK, SOFT = "#22303C", "#5B6670"
PLUM, PLUM_TEXT, PLUM_TINT = "#8E2A6B", "#6E1C52", "#F0E2EA"
MOSS, SLATE, RED, OCHRE, BLUE, BROWN = "#4C7A34", "#5B6670", "#B3372B", "#B26A00", "#2F5D8A", "#7A6A53"
RED_TEXT, OCHRE_TEXT, MOSS_TEXT = "#9C2D22", "#854F00", "#3E652A"
RED_TINT, OCHRE_TINT = "#F6E3DF", "#F5E9D3"
HELD, FREE, HELPER = "#0F5C63", "#B26A00", "#7D868C"


@lru_cache(maxsize=256)
def colour(name: str, alpha: float = 1.0) -> QColor:
    """A role's colour with an opacity; nobody changes it."""
    made = QColor(name)
    made.setAlphaF(alpha)
    return made


@lru_cache(maxsize=256)
def pen(name: str, width: float = 1.0, dotted: bool = False) -> QPen:
    """A pen in a role's colour; nobody changes it."""
    return QPen(QColor(name), width, Qt.PenStyle.DotLine if dotted else Qt.PenStyle.SolidLine)


@lru_cache(maxsize=64)
def font(pixels: int = 13, weight: int = 400, italic: bool = False) -> QFont:
    """Inter with tabular figures."""
    made = QFont("Inter")
    made.setPixelSize(pixels)
    made.setWeight(QFont.Weight(weight))
    made.setItalic(italic)
    made.setFeature(QFont.Tag("tnum"), 1)
    return made


@lru_cache(maxsize=8192)
def width_of(text: str, pixels: int, weight: int = 400) -> float:
    """How wide a text is, px: the same words are measured again at every refresh."""
    return QFontMetricsF(font(pixels, weight)).horizontalAdvance(text)


@lru_cache(maxsize=64)
def rise(pixels: int, weight: int = 400) -> float:
    """How far below the middle of a line its text stands, px."""
    metrics = QFontMetricsF(font(pixels, weight))
    return (metrics.ascent() - metrics.descent()) / 2


SHEET = f"""
* {{ color: {INK}; }}
QWidget#window, QWidget#panel, QScrollArea#panel, QWidget#strip, QWidget#head {{ background: {PANEL}; }}
QWidget#canvas {{ background: {PAPER}; }}
QSplitter::handle, QFrame#rule {{ background: {LINE}; }}
QScrollArea {{ border: none; background: {PANEL}; }}
QLabel#soft {{ color: {SOFT}; font-size: 11px; }}
QLabel#heading {{ font-size: 13px; font-weight: 600; }}
QLabel#red {{ color: {RED_TEXT}; font-size: 11px; }}
QLabel#name {{ font-size: 14px; font-weight: 600; }}
QLineEdit {{ background: {FIELD}; border: 1px solid {LINE}; border-radius: 3px; padding: 1px 6px; font-size: 12px;
    selection-background-color: {PLUM}; selection-color: white; }}
QLineEdit:focus {{ border: 1px solid {PLUM}; }}
QLineEdit[bad="true"] {{ border: 1px solid {RED}; background: {RED_TINT}; }}
QLineEdit:read-only {{ background: transparent; border-color: transparent; }}
QComboBox {{ background: {FIELD}; border: 1px solid {LINE}; border-radius: 3px; padding: 2px 8px; font-size: 12px; }}
QComboBox:focus {{ border: 1px solid {PLUM}; }}
QComboBox::drop-down {{ border: none; width: 16px; }}
QComboBox QAbstractItemView {{ background: {FIELD}; border: 1px solid {LINE}; font-size: 12px;
    selection-background-color: {PLUM_TINT}; selection-color: {PLUM_TEXT}; }}
QPushButton, QToolButton {{ background: {FIELD}; border: 1px solid {EDGE}; border-radius: 4px; padding: 3px 9px;
    font-size: 12px; font-weight: 500; }}
QPushButton:hover, QToolButton:hover {{ border-color: {PLUM}; }}
QPushButton:focus, QToolButton:focus {{ border: 1px solid {PLUM}; }}
QPushButton:disabled, QToolButton:disabled {{ color: {SOFT}; border-color: {LINE}; background: transparent; }}
QPushButton#main, QToolButton#main {{ background: {PLUM}; color: white; border-color: {PLUM}; }}
QPushButton#flat, QToolButton#flat {{ background: transparent; border: 1px solid transparent; }}
QPushButton#flat:hover, QToolButton#flat:hover {{ border-color: {EDGE}; }}
QPushButton#flat:focus, QToolButton#flat:focus {{ border-color: {PLUM}; }}
QToolButton::menu-button {{ border: none; width: 13px; }}
QToolButton#flat[popupMode="1"], QToolButton#main[popupMode="1"] {{ padding-right: 16px; }}
QToolButton#pill {{ border-radius: 13px; padding: 4px 14px; font-weight: 600; }}
QToolButton::menu-indicator {{ image: none; }}
QMenu {{ background: {FIELD}; border: 1px solid {LINE}; padding: 4px; font-size: 12px; }}
QMenu::item {{ padding: 4px 18px 4px 10px; border-radius: 3px; }}
QMenu::item:selected {{ background: {PLUM_TINT}; color: {PLUM_TEXT}; }}
QMenu::item:disabled {{ color: {SOFT}; }}
QMenu::separator {{ height: 1px; background: {HAIR}; margin: 4px; }}
QToolTip {{ background: {FIELD}; border: 1px solid {LINE}; color: {INK}; padding: 3px; font-size: 11px; }}
QTableView {{ background: {PAPER}; border: none; gridline-color: {HAIR}; font-size: 12px;
    selection-background-color: {PLUM_TINT}; selection-color: {INK}; outline: 0; }}
QTableView::item:focus {{ border: 2px solid {PLUM}; }}
QHeaderView {{ background: {PAPER}; }}
QHeaderView::section {{ background: {PAPER}; border: none; border-bottom: 1px solid {LINE}; padding: 4px 8px;
    font-size: 12px; font-weight: 600; }}
QTreeWidget {{ background: {PAPER}; border: none; font-size: 12px; outline: 0; }}
QTreeWidget::item {{ height: 24px; border-bottom: 1px solid {HAIR}; }}
QTreeWidget::item:selected {{ background: {PLUM_TINT}; color: {PLUM_TEXT}; }}
QListWidget {{ background: {FIELD}; border: none; font-size: 12px; outline: 0; }}
QListWidget::item {{ padding: 4px 8px; }}
QListWidget::item:selected {{ background: {PLUM_TINT}; color: {PLUM_TEXT}; }}
QScrollBar:vertical {{ background: transparent; width: 9px; }}
QScrollBar::handle:vertical {{ background: {LINE}; border-radius: 4px; min-height: 24px; }}
QScrollBar:horizontal {{ background: transparent; height: 9px; }}
QScrollBar::handle:horizontal {{ background: {LINE}; border-radius: 4px; min-width: 24px; }}
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {{ background: none; height: 0; width: 0; }}
"""


def down_arrow() -> str:
    """Path of the arrow of choices, for style sheets."""
    return str(files("architectonic.base").joinpath("fonts", "down.svg")).replace("\\", "/")


def apply(application: QApplication) -> None:
    """Load the shipped font and set the style of a QApplication."""
    folder = files("architectonic.base").joinpath("fonts")
    for name in ("Regular", "Italic", "Medium", "SemiBold"):
        QFontDatabase.addApplicationFontFromData(folder.joinpath(f"Inter-{name}.otf").read_bytes())
    application.setStyle("Fusion")
    application.setFont(font())
    application.setStyleSheet(
        f"{SHEET}QToolButton::menu-arrow, QComboBox::down-arrow"
        f" {{ width: 8px; height: 8px; image: url({down_arrow()}); }}\n"
    )

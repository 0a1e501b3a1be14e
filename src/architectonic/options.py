"""The options of the `architectonic` command, command by command."""

from __future__ import annotations

import argparse
import os
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import NoReturn

from architectonic.base.errors import UserFault

Run = Callable[[argparse.Namespace], int]


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise UserFault(message, "", f"see: {self.prog} --help")


def _jobs(text: str) -> int:
    """How many processes work: each takes a few hundred MB."""
    most = max(4, 2 * (os.cpu_count() or 1))
    if not text.isdecimal() or not 1 <= int(text[:9]) <= most:
        raise argparse.ArgumentTypeError(f"“{text}” is no number of processes from 1 to {most}")
    return int(text)


def parser(runs: Mapping[str, Run]) -> argparse.ArgumentParser:
    """All commands with their options; each is run by what stands under its name."""
    top = _Parser(
        prog="architectonic",
        description="Drive related parts of a product family from shared layouts and tables.",
    )
    commands = top.add_subparsers(dest="command", required=True, parser_class=_Parser)

    def command(name: str, text: str) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=text, description=text)
        made.set_defaults(run=runs[name])
        return made

    new = command("new", "Make an empty family.")
    new.add_argument("folder", type=Path)
    new.add_argument("--name", help="name of the family (the folder's by default)")
    new.add_argument("--sizes", default="", help="names of its sizes, parted by commas")
    demo = command("demo", "Open the demo family, or write it to a folder.")
    demo.add_argument("--write", type=Path, metavar="DIR")
    demo.add_argument("--tutorial", action="store_true", help="the small family of the tutorial instead")
    build = command("build", "Evaluate a family and report.")
    _family(build)
    build.add_argument("--document", action="append", default=[], metavar="D")
    build.add_argument("--configuration", default="", metavar="C")
    build.add_argument("--jobs", type=_jobs, default=2, metavar="N")
    build.add_argument("--no-cache", action="store_true")
    impact = command("impact", "What a change of values would do, without writing it.")
    _family(impact)
    check = command("check", "Rules, feeds and failures, over all configurations.")
    _family(check)
    check.add_argument("--junit", type=Path, metavar="FILE", help="write them as JUnit XML too")
    _bringing(command)
    cache = command("cache", "What the stores of shapes and results hold, and their limit.")
    cache.add_argument("--clear", action="store_true", help="empty them; everything is made again when it is needed")
    ranged = command("range", "Build every configuration, and write a file for each and the catalogue.")
    _family(ranged)
    ranged.add_argument("document")
    ranged.add_argument("--to", type=Path, required=True, metavar="FOLDER")
    ranged.add_argument("--format", default="step", choices=("step", "stl", "3mf"))
    ranged.add_argument("--names", default="{document} {name}", metavar="PATTERN", help="of files, such as {number}")
    ranged.add_argument("--cluster", default="", metavar="ADDRESS", help="of a cluster of dask.distributed that works")
    ranged.add_argument("--jobs", type=_jobs, default=2, metavar="N")
    _fineness(ranged)
    _pieces(command)
    return top


def _pieces(command: Callable[[str, str], argparse.ArgumentParser]) -> None:
    """What is written of one document."""
    for name, text in (
        ("export", "Write a document as a neutral file."),
        ("picture", "Draw a picture of a document."),
    ):
        made = command(name, text)
        _family(made)
        made.add_argument("document")
        made.add_argument("--configuration", default="", metavar="C")
        made.add_argument("--alternate", default="", metavar="A")
        made.add_argument("--to", type=Path, required=True, metavar="FILE")
        if name == "export":
            made.add_argument("--sketch", default="", help="which sketch a .dxf is of (the first by default)")
            made.add_argument("--item", default="", help="the part item that alone is written, by name or number")
            made.add_argument("--face", default="", help="the flat face whose outline a .dxf is, such as Block:end")
            made.add_argument("--kerf", default="", metavar="EXPR", help="the width of the cut beside that outline")
            _fineness(made)
        if name == "picture":
            made.add_argument("--size", default="1280x800", metavar="WxH")
            made.add_argument("--view", default="isometric")


def _family(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("family", type=Path, help="the family's folder, or the family.json in it")
    parser.add_argument("--set", action="append", default=[], metavar="NAME=EXPR", dest="settings")
    parser.add_argument("--json", action="store_true", help="print one JSON object")


def _fineness(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--chord", default="0.1 mm", metavar="LENGTH", help="how far facets may miss a face")
    parser.add_argument("--angle", default="10 deg", metavar="ANGLE", help="how far facets turn from one to the next")
    parser.add_argument("--down", default="", metavar="WAY", help="what lies down: x, -x, y, -y, z, -z, or a flat face")


def _bringing(command: Callable[[str, str], argparse.ArgumentParser]) -> None:
    bring = command("bring", "Bring a drawing or a spreadsheet into a document, and save.")
    bring.add_argument("family", type=Path, help="the family's folder, or the family.json in it")
    bring.add_argument("document")
    bring.add_argument("file", type=Path, help=".dxf into a sketch; .csv or .xlsx into a table")
    bring.add_argument("--sketch", default="", help="the sketch that takes the curves (or the new one's name)")
    bring.add_argument("--plane", default="", help="a new sketch on this plane: front, top, right or a datum")
    bring.add_argument("--unit", default="", help="one unit of the drawing, where it does not say")
    bring.add_argument("--layers", default="", help="layers of the drawing, parted by commas (all by default)")
    bring.add_argument("--join", default="0.01 mm", help="ends within this distance are joined")
    bring.add_argument("--sheet", default="", help="sheet of a workbook (the first by default)")
    bring.add_argument("--look", action="store_true", help="only say what it would change")

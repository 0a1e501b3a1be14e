"""Pictures to draw over: brought in, scaled by two points, moved, straightened, faded and cropped."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node, Picture
from architectonic.describe.words.candidates import planes
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import asking
from architectonic.family.names import free_name
from architectonic.family.records import Family, Model, Underlay
from architectonic.quantities.compiled import complete, fixed_value
from architectonic.session.sketch import underlays

PICTURES = "Pictures (*.png *.jpg *.jpeg *.svg)"
XY = tuple[float, float]


class UnderlayCommands:
    """Callbacks about underlays; points are picked in the 3D canvas, on the picture's plane."""

    def __init__(self, desk: Desk, prompt: Prompt, canvas: BodyCanvas, show: Callable[[], object]) -> None:
        self.desk, self.prompt, self.canvas, self.show_canvas = desk, prompt, canvas, show

    def actions(self) -> list[Action]:
        """The actions about underlays."""
        model, chosen = self._is_model, self._has
        return [
            Action(
                "underlay.new",
                "Underlay a picture…",
                self.ask,
                model,
                menu="document",
                short="Underlay…",
                also=("image", "picture"),
                tells="A picture on a plane, to draw over.",
                wants="wants a part or layout",
            ),
            Action(
                "underlay.scale",
                "Scale by two points…",
                self.scale,
                chosen,
                tells="Two points of it and how far apart they are.",
                wants="wants a chosen underlay",
            ),
            Action(
                "underlay.move",
                "Move a point of it…",
                self.move,
                chosen,
                tells="One of its points, put where it belongs.",
                wants="wants a chosen underlay",
            ),
            Action(
                "underlay.straighten",
                "Straighten by two points…",
                self.straighten,
                chosen,
                tells="Two of its points that are level or upright.",
                wants="wants a chosen underlay",
            ),
            Action(
                "underlay.look",
                "Opacity, turn, crop…",
                self.look,
                chosen,
                tells="How it is seen, and what of it.",
                wants="wants a chosen underlay",
            ),
        ]

    def _is_model(self) -> bool:
        return isinstance(self.desk.main.document, Model)

    def _chosen(self) -> Underlay | None:
        key = self.desk.main.operation
        return next((o for o in self.desk.main.build if o.id == key and isinstance(o, Underlay)), None)

    def _has(self) -> bool:
        return self._chosen() is not None and self._picture() is not None

    def _picture(self) -> Picture | None:
        found, at = self._chosen(), self.desk.main.at
        value = (
            self.desk.evaluation.value(Node("underlay", at, found.id))
            if found and at and self.desk.evaluation
            else None
        )
        return value if isinstance(value, Picture) else None

    def ask(self) -> None:
        """Ask for a file."""
        name, _ = QFileDialog.getOpenFileName(self.prompt.window(), "A picture to draw over", "", PICTURES)
        if name:
            self.bring(Path(name))

    def bring(self, file: Path) -> None:
        """Keep a picture in the family's folder, then ask for its plane and width."""
        folder = self.desk.session.stored.folder
        self.desk.work.run(f"Reading {file.name}", partial(underlays.keep, folder, file), partial(self._ask_for, file))

    def _ask_for(self, file: Path, kept: tuple[str, tuple[int, int]]) -> None:
        name, pixels = kept
        main = self.desk.main
        choices = dict(planes(main.subject))
        called = free_name(file.stem.replace("_", " ").replace("-", " "), [o.name for o in main.build])

        def done(title: str, plane: str, width: str) -> bool:
            key, before = main.document_id, main.after_marker
            along = "y" if plane == "right" else "x"
            ok = self.desk.apply(
                f"underlay {title}",
                lambda f: underlays.add(f, key, title, name, pixels, choices[plane], width, along, before),  # type: ignore[arg-type]
            )
            if ok:
                self.show_canvas()
                main.operation = next(o.id for o in main.build if o.name == title)
                main.selection_changed.emit()
                self.canvas.frame_later()
                self.desk.told.emit("Scale by two points… sets its size from a distance that you know.", False)
            return ok

        self.prompt.ask(
            f"{file.name}, {pixels[0]} × {pixels[1]}",
            [("called", called), ("on the plane", list(choices)), ("wide", asking("200 mm", main))],
            done,
            "Underlay",
        )

    def _pick(self, count: int, told: str, done: Callable[[list[XY]], object]) -> None:
        """Ask for points on the picture's plane."""
        picture = self._picture()
        assert picture is not None
        self.show_canvas()
        self.canvas.look_at(picture.frame)
        self.canvas.plane_pick.ask(picture.frame, count, done)
        self.desk.told.emit(told, False)

    def scale(self) -> None:
        """Two points, then how far they are apart."""
        record = self._chosen()
        assert record is not None
        key = self.desk.main.document_id

        def picked(points: list[XY]) -> None:
            a, b = points
            picture = self._picture()
            assert picture is not None

            def done(distance: str) -> bool:
                return self.desk.apply(
                    f"scale {record.name}", lambda f: underlays.scale(f, key, record.id, picture, a, b, distance)
                )

            self.prompt.ask(
                "These two points are apart",
                [("by", asking(f"{math.dist(a, b):.1f} mm", self.desk.main))],
                done,
            )

        self._pick(2, "Click two points of the picture whose distance you know. Esc leaves it.", picked)

    def move(self) -> None:
        """A point of the picture, then where it goes."""
        record = self._chosen()
        assert record is not None
        self._moving(record, "Click a point of the picture, then where it shall stand.", underlays.place)

    def straighten(self) -> None:
        """Two points whose line becomes level or upright."""
        record = self._chosen()
        assert record is not None
        self._moving(record, "Click two points on a line that is level or upright in truth.", underlays.straighten)

    def _moving(self, record: Underlay, told: str, change: Callable[..., Family]) -> None:
        key = self.desk.main.document_id

        def picked(points: list[XY]) -> None:
            picture = self._picture()
            assert picture is not None
            self.desk.apply(f"move {record.name}", lambda f: change(f, key, record.id, picture, *points))

        self._pick(2, told, picked)

    def look(self) -> None:
        """Ask for opacity, turn and crop."""
        record = self._chosen()
        assert record is not None
        key = self.desk.main.document_id
        crop = " ".join(f"{100 * c:g}" for c in record.crop)

        def done(opacity: str, turn: str, cropped: str) -> bool:
            def edit(f: Family) -> Family:
                shares = cropped.replace(",", " ").replace("%", " ").split()
                try:
                    left, bottom, right, top = (float(s) / 100 for s in shares)
                except ValueError:
                    raise UserFault(
                        "four shares in percent are needed", cropped, "write left bottom right top"
                    ) from None
                return underlays.change(
                    f,
                    key,
                    record.id,
                    opacity=fixed_value(opacity if "percent" in opacity else f"{opacity} percent", "number"),
                    turn=fixed_value(complete(turn, "angle", "deg"), "angle"),
                    crop=(left, bottom, right, top),
                )

            return self.desk.apply(f"look of {record.name}", edit)

        self.prompt.ask(
            record.name,
            [
                ("opacity, percent", f"{100 * record.opacity:g}"),
                ("turned by", f"{math.degrees(record.turn):.6g} deg"),
                ("crop left bottom right top, percent", crop),
            ],
            done,
        )

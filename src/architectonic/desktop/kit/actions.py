"""Actions as records: menus, keys and Find or do all come from this list."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol


def always() -> bool:
    """Enabled in any state."""
    return True


@dataclass(frozen=True)
class Action:
    """Something that can be done.

    Attributes:
        id: dotted and stable.
        title: what menus and Find or do show.
        run: does it.
        enabled: asked whenever it is shown or triggered.
        keys: shortcut in Qt's notation, "" for none.
        short: a shorter title for the row of verbs, where the group or the selection says the rest.
        also: other words that Find or do finds it by.
        tells: what it does, in one line; of an operation the sentence that it opens.
        wants: what must be there or chosen before it can be done.
        menu: the menu it stands in: family, edit, document or view; "" for Find or do only.
    """

    id: str
    title: str
    run: Callable[[], object]
    enabled: Callable[[], bool] = always
    keys: str = ""
    menu: str = ""
    short: str = ""
    also: tuple[str, ...] = ()
    tells: str = ""
    wants: str = ""

    @property
    def word(self) -> str:
        """The shortest title."""
        return (self.short or self.title).rstrip("…")


class Source(Protocol):
    """Something that brings actions along."""

    def actions(self) -> list[Action]:
        """The actions it brings, in the order in which they are shown."""


class Registry:
    """All actions by id, in order.

    Args:
        begin: told the title of each action that is run.
        attempt: runs what may be refused, and tells why it was.
    """

    def __init__(
        self,
        actions: list[Action],
        begin: Callable[[str], object] = lambda _: None,
        attempt: Callable[[Callable[[], object]], object] = lambda run: run(),
    ) -> None:
        self.begin, self.attempt = begin, attempt
        self.actions = {a.id: a for a in actions}
        assert len(self.actions) == len(actions), "two actions share an id"

    def run(self, action_id: str) -> bool:
        """Run an action if it is enabled."""
        action = self.actions[action_id]
        if not action.enabled():
            return False
        self.begin(action.word)
        self.attempt(action.run)
        return True

    def in_menu(self, menu: str) -> list[Action]:
        """Actions of a menu."""
        return [a for a in self.actions.values() if a.menu == menu]

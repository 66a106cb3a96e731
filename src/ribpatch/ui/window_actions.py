"""The actions of the window: made from the table, each a method of its id in the group that it belongs to."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from PySide6.QtGui import QAction, QKeySequence

from ribpatch.ui.actions import ACTIONS, ActionSpec
from ribpatch.ui.job_actions import JobActions
from ribpatch.ui.paper_actions import PaperActions
from ribpatch.ui.survey_actions import SurveyActions
from ribpatch.ui.view_actions import ViewActions

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.ui.window import Window


class WindowActions:
    """Builds the menus and carries the actions out."""

    def __init__(self, window: Window) -> None:
        self._w = window
        self._groups = (JobActions(window), PaperActions(window), SurveyActions(window), ViewActions(window))
        self.by_id: dict[str, QAction] = {}
        menus = {}
        for spec in ACTIONS:
            if spec.menu not in menus:
                # Alt+letters belong to the ladder's rungs; the menus take letters that no rung uses.
                menus[spec.menu] = window.menuBar().addMenu(
                    {"Job": "&Job", "Papers": "P&apers", "Edit": "&Edit", "View": "&View", "Help": "&Help"}[spec.menu]
                )
            menus[spec.menu].addAction(self._made(spec))
        window.session.stack.indexChanged.connect(lambda _index: self.refresh())

    def _made(self, spec: ActionSpec) -> QAction:
        action = QAction(self._w)
        action.setText(spec.text)  # not as it is made: that loads all that icons know
        if spec.key:
            action.setShortcut(QKeySequence(spec.key))
        words = spec.text.replace("&", "")
        action.setToolTip(f"{words} ({spec.key})" if spec.key else words)
        action.setStatusTip(spec.tip or words)
        action.triggered.connect(lambda checked=False, i=spec.id: self._method(i)())
        self.by_id[spec.id] = action
        return action

    def trigger(self, identity: str) -> None:
        """Carry out an action as if it were picked from its menu."""
        self.by_id[identity].trigger()

    def refresh(self) -> None:
        """Enable what can be done now, and name the steps that undo and redo would take."""
        session = self._w.session
        stack = session.stack
        can = {
            "nothing": True,
            "job": session.is_open,
            "zone": session.zone is not None,
            "undo": stack.canUndo(),
            "redo": stack.canRedo(),
        }
        for spec in ACTIONS:
            self.by_id[spec.id].setEnabled(can[spec.needs])
        self.by_id["undo"].setText(f"&Undo {stack.undoText()}".rstrip())
        self.by_id["redo"].setText(f"&Redo {stack.redoText()}".rstrip())

    def _method(self, identity: str) -> Callable[[], None]:
        found = next(getattr(group, identity) for group in self._groups if hasattr(group, identity))
        return cast("Callable[[], None]", found)

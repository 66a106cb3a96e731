"""Jobs and the window itself: new, open, demo, practice, save, undo, quit. Each action is a method of its id."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ribpatch.ui.window import Window


class JobActions:
    """Jobs and the window itself: new, open, demo, practice, save, undo, quit."""

    def __init__(self, window: Window) -> None:
        self._w = window

    def new_job(self) -> None:
        """Begin a new job."""
        if self._w.documents.may_leave():
            self._w.show_new()

    def open_job(self) -> None:
        """Open a job file."""
        path = self._w.documents.ask_open()
        if path is not None:
            self._w.open_path(path)

    def new_window(self) -> None:
        """Open another window, for another job."""
        from ribpatch.ui.other_window import open_window

        if not open_window():
            self._w.session.told.emit("Another window could not be opened: start Rib Patch once more instead.")

    def copy(self) -> None:
        """Copy what has the keys."""
        from PySide6.QtWidgets import QApplication

        from ribpatch.ui.copying import copy_from

        said = copy_from(QApplication.focusWidget(), self._w.session.system)
        self._w.session.told.emit(
            f"Copied: {said}."
            if said
            else "Nothing to copy here: put the keys on a figure, a table or a drawing first."
        )

    def start(self) -> None:
        """Go to the start page and back."""
        if self._w.at_work or not self._w.session.is_open:
            self._w.show_start()
        else:
            self._w.show_work()

    def demo_job(self) -> None:
        """Open the demo job as a job without a file."""
        from ribpatch.library.kept import kept_demo_job

        if self._w.documents.may_leave():
            self._w.show_new_job(kept_demo_job(), "open")

    def practice(self) -> None:
        """Begin a practice panel as a job of its own, with a hidden truth not seen before."""
        from ribpatch.library.practice import practice_job

        if self._w.documents.may_leave():
            import secrets

            self._w.show_new_job(practice_job(secrets.randbelow(2**31)), "find")

    def save(self) -> None:
        """Save."""
        self._w.documents.save()

    def save_as(self) -> None:
        """Save under another name."""
        self._w.documents.save_as()

    def undo(self) -> None:
        """Take the last step back."""
        self._w.session.stack.undo()

    def redo(self) -> None:
        """Take the step again."""
        self._w.session.stack.redo()

    def add_zone(self) -> None:
        """Add a zone."""
        self._w.add_zone()

    def way(self) -> None:
        """Go on to what is still missing for a first plan."""
        if self._w.at_work:
            self._w.work.way.go.click()

    def draft(self) -> None:
        """Draft the repair of the zone; pressed again, alternatives beside it."""
        from ribpatch.core.draft import draft_others, draft_repair
        from ribpatch.core.errors import Fault

        session = self._w.session
        zone = session.zone
        if zone is None or not self._w.settled():
            return
        made = session.plan.zone(zone.id)
        try:
            edit = draft_others(made, session.system) if zone.scheme.reasons else draft_repair(made, session.system)
            session.try_apply(edit)
        except Fault as fault:
            session.told.emit(fault.sentence)
            return
        session.go(stage="open")
        self._w.zone_bench.below.show_page("Draft")

    def quit(self) -> None:
        """Close the window."""
        self._w.close()

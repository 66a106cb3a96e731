"""The one door to the job: applies edits, keeps undo, plan and file, and tells the views what changed."""

from __future__ import annotations

import os
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import Struct
from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QUndoCommand, QUndoStack

from ribpatch.core.errors import Fault
from ribpatch.core.memo import forget_all
from ribpatch.core.numerals import use_money
from ribpatch.core.plan import Plan, plan
from ribpatch.jobfile import archive
from ribpatch.jobfile.album import Album, damaged_folder
from ribpatch.jobfile.lock import JobLock, key_of
from ribpatch.jobfile.mark import FileMark

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.edits import Edit
    from ribpatch.core.job import Job, Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.units import System


class Change(Struct, frozen=True):
    """What the views are told: the plan before (None for a new job) and now."""

    old: Plan | None
    new: Plan


class _Snapshot(QUndoCommand):
    """One step: whole job before and after. Steps of one drag share a token and become one."""

    def __init__(self, name: str, before: Job, after: Job, put: Callable[[Job], None], token: int) -> None:
        super().__init__(name)
        self._before, self._after, self._put, self._token = before, after, put, token

    def undo(self) -> None:
        self._put(self._before)

    def redo(self) -> None:
        self._put(self._after)

    def id(self) -> int:
        return self._token

    def mergeWith(self, other: QUndoCommand) -> bool:
        if not isinstance(other, _Snapshot) or other._token != self._token:
            return False
        self._after = other._after
        return True


class Session(QObject):
    """An open job. ``opening`` comes before the first view of a job, ``changed`` carries a Change, ``told`` a sentence
    for the message bar.
    """

    opening = Signal()
    changed = Signal(object)
    told = Signal(object)
    file_changed = Signal()
    focus_changed = Signal()

    def __init__(self, shelf: Shelf, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.shelf = shelf
        self.stack = QUndoStack(self)
        self.path: Path | None = None
        self.album = Album()
        self.system: System = "metric"
        self.currency = ""  # of jobs that state none
        self.zone_id = ""
        self.stage = "find"
        self._plan: Plan | None = None
        self._lock: JobLock | None = None
        self._mark: FileMark | None = None
        self.may_go: Callable[[], bool] = lambda: True
        self._token = 0

    # ---- what is open ----

    @property
    def plan(self) -> Plan:
        """The plan of the open job."""
        assert self._plan is not None, "no job is open"
        return self._plan

    @property
    def job(self) -> Job:
        """The open job."""
        return self.plan.job

    @property
    def is_open(self) -> bool:
        """Whether a job is open."""
        return self._plan is not None

    @property
    def zone(self) -> Zone | None:
        """The zone worked on."""
        if self._plan is None:
            return None
        return next((z for z in self.job.zones if z.id == self.zone_id), None)

    @property
    def unsaved(self) -> bool:
        """Whether there are steps since the last save."""
        return self.is_open and (not self.stack.isClean() or self.path is None)

    # ---- opening and saving ----

    def show_job(
        self,
        job: Job,
        path: Path | None,
        lock: JobLock | None = None,
        mark: FileMark | None = None,
        recovered: bool = False,
    ) -> None:
        """Put a job in the window, with an empty undo stack. ``mark`` is what its file looked like when it was read."""
        self._release()
        self._lock, self.path, self._mark = lock, path, mark
        self.album = Album(path)
        self.stack.clear()
        if recovered:
            self.stack.resetClean()
        self.zone_id = job.zones[0].id if job.zones else ""
        self._plan = None
        self.opening.emit()
        self._put(job)
        self.file_changed.emit()

    def open(self, path: Path) -> None:
        """Open a job file; raises Fault and leaves the open job as it was."""
        path = Path(os.path.abspath(path))
        same = self._lock is not None and self._lock.key == key_of(path)
        lock = None if same else JobLock(path)
        try:
            mark = FileMark.of(path)
            job = archive.load(path)
            forget_all()
            self.check(job)
        except Fault:
            if lock is not None:
                lock.release()
            raise
        kept = self._lock if same else lock
        self._lock = None if same else self._lock
        self.show_job(job, path, kept, mark)

    def check(self, job: Job) -> None:
        """Raise Fault where a job cannot be worked with, as when it names a material that is on no shelf."""
        plan(job, self.shelf, self.system)

    @property
    def mark(self) -> FileMark | None:
        """What the job's file looked like when it was last read or written here."""
        return self._mark

    @property
    def changed_outside(self) -> str:
        """What something else did to the job's file since, in words; empty where it is as it was."""
        return self._mark.changed(self.path) if self._mark is not None and self.path is not None else ""

    def save(self, path: Path) -> tuple[str, ...]:
        """Save to a file; raises Fault and leaves file and job as they were. Returns the photographs and recordings
        that could not be read and are not in the file.
        """
        path = Path(os.path.abspath(path))
        same = self._lock is not None and self._lock.key == key_of(path)
        lock = None if same else JobLock(path)
        try:
            self.album.before_save(self.job)
            left_out = archive.save(self.job, path, carry_from=self.path, album=self.album)
        except Fault:
            if lock is not None:
                lock.release()
            raise
        self.album.set_aside(left_out, damaged_folder(path))
        self.album.saved_to(path, self.job, left_out)
        if lock is not None:
            self._release()
            self._lock = lock
        self.path, self._mark = path, FileMark.of(path)
        if self._lock is not None:
            self._lock.renew()
        self.stack.setClean()
        self.file_changed.emit()
        return left_out

    def reload(self) -> None:
        """Take what the file holds now as one step, so that undo brings the work of this window back. Raises Fault."""
        assert self.path is not None
        mark = FileMark.of(self.path)
        job = archive.load(self.path)
        self.check(job)
        self.album.keep_all(self.job)
        self.album.saved_to(self.path, job)
        self._mark = mark
        self.stack.push(_Snapshot("take what is in the file", self.job, job, self._put, -1))
        self.stack.setClean()
        self.file_changed.emit()

    def _release(self) -> None:
        if self._lock is not None:
            self._lock.release()
            self._lock = None

    def close(self) -> None:
        """Let go of the file."""
        self._release()

    # ---- editing ----

    def apply(self, edit: Edit, token: int = -1) -> bool:
        """Apply an edit as one undo step; False, and a sentence told, where it does not hold."""
        try:
            self.try_apply(edit, token)
        except Fault as fault:
            self.told.emit(fault.sentence)
            return False
        return True

    def try_apply(self, edit: Edit, token: int = -1) -> None:
        """Apply an edit as one undo step; raises Fault and changes nothing where it does not hold."""
        before = self.job
        after = edit.change(before)
        plan(after, self.shelf, self.system)  # what cannot be planned is refused before it is on the stack
        if after != before:
            self.stack.push(_Snapshot(edit.name, before, after, self._put, token))

    def drag_token(self) -> int:
        """A new token: edits applied under it become one step."""
        self._token += 1
        return self._token

    def _put(self, job: Job) -> None:
        old = self._plan
        self._plan = plan(job, self.shelf, self.system)
        use_money(job.buying.currency or self.currency)
        if all(z.id != self.zone_id for z in job.zones):
            self.zone_id = job.zones[0].id if job.zones else ""
        self.changed.emit(Change(old, self._plan))

    def use_shelf(self, shelf: Shelf) -> None:
        """Plan with another shelf: what the shop learned has changed. No step of the job."""
        self.shelf = shelf
        if self._plan is not None:
            self._put(self.job)

    # ---- what is looked at ----

    def go(self, zone_id: str | None = None, stage: str | None = None) -> None:
        """Look at a zone, a stage, or both, unless what is typed and not entered has to be told first."""
        if not self.may_go():
            return
        if zone_id is not None:
            self.zone_id = zone_id
        if stage is not None:
            self.stage = stage
        self.focus_changed.emit()

    def set_system(self, system: System) -> None:
        """Show everything in the other units; no stored value changes."""
        self.system = system
        if self._plan is not None:
            self._put(self.job)

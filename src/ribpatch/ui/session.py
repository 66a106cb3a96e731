"""The one door to the job: applies edits, keeps undo, plan and file, and tells the views what changed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QUndoCommand, QUndoStack

from ribpatch.core.edits import Edit
from ribpatch.core.errors import Fault
from ribpatch.core.job import Job, Zone
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.plan import Plan, plan
from ribpatch.core.units import System
from ribpatch.jobfile import archive
from ribpatch.jobfile.album import Album
from ribpatch.jobfile.lock import JobLock


@dataclass(frozen=True)
class Change:
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
    """An open job. ``changed`` carries a Change, ``drafted`` a Job before it is planned, ``told`` a sentence for the message bar, ``moved`` nothing."""

    changed = Signal(object)
    drafted = Signal(object)
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
        self.zone_id = ""
        self.stage = "find"
        self._plan: Plan | None = None
        self._lock: JobLock | None = None
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

    def show_job(self, job: Job, path: Path | None, lock: JobLock | None = None, recovered: bool = False) -> None:
        """Put a job in the window, with an empty undo stack."""
        self._release()
        self._lock, self.path = lock, path
        self.album = Album(path)
        self.stack.clear()
        if recovered:
            self.stack.resetClean()
        self.zone_id = job.zones[0].id if job.zones else ""
        self._plan = None
        self._put(job)
        self.file_changed.emit()

    def open(self, path: Path) -> None:
        """Open a job file; raises Fault and leaves the open job as it was."""
        same = self.path is not None and path.resolve() == self.path.resolve()
        lock = None if same else JobLock(path)
        try:
            job = archive.load(path)
            self.check(job)
        except Fault:
            if lock is not None:
                lock.release()
            raise
        kept = self._lock if same else lock
        self._lock = None if same else self._lock
        self.show_job(job, path, kept)

    def check(self, job: Job) -> None:
        """Raise Fault where a job cannot be worked with, as when it names a material that is on no shelf."""
        plan(job, self.shelf, self.system)

    def save(self, path: Path) -> None:
        """Save to a file; raises Fault and leaves file and job as they were."""
        same = self.path is not None and path.resolve() == self.path.resolve()
        lock = None if same else JobLock(path)
        try:
            self.album.before_save(self.job)
            archive.save(self.job, path, carry_from=self.path, album=self.album.fresh)
            self.album.saved_to(path, self.job)
        except Fault:
            if lock is not None:
                lock.release()
            raise
        if lock is not None:
            self._release()
            self._lock = lock
        self.path = path
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
        self.drafted.emit(after)
        try:
            plan(after, self.shelf, self.system)  # what cannot be planned is refused before it is on the stack
        except Fault:
            self.changed.emit(Change(self._plan, self.plan))  # what was drafted goes back to what is
            raise
        if after != before:
            self.stack.push(_Snapshot(edit.name, before, after, self._put, token))

    def drag_token(self) -> int:
        """A new token: edits applied under it become one step."""
        self._token += 1
        return self._token

    def _put(self, job: Job) -> None:
        old = self._plan
        self._plan = plan(job, self.shelf, self.system)
        if all(z.id != self.zone_id for z in job.zones):
            self.zone_id = job.zones[0].id if job.zones else ""
        self.changed.emit(Change(old, self._plan))

    # ---- what is looked at ----

    def go(self, zone_id: str | None = None, stage: str | None = None) -> None:
        """Look at a zone, a stage, or both."""
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

"""Jobs as files: new, open, save, autosave, recovery, papers. Asks for paths, runs the slow parts beside the window."""

from __future__ import annotations

from datetime import datetime
from math import inf
from pathlib import Path
from time import monotonic
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QTimer, Signal

from ribpatch.core.errors import Fault
from ribpatch.core.job import members_of
from ribpatch.jobfile import archive, recovery
from ribpatch.jobfile.lock import JobLock
from ribpatch.jobfile.writing import write_output
from ribpatch.ui.file_watch import FileWatch
from ribpatch.ui.incoming import Incoming, said
from ribpatch.ui.keeping import Keeping
from ribpatch.ui.save_over import KEEP_BOTH, OVERWRITE, RELOAD, ended, file_name, free_name, left_out_words, which_stays
from ribpatch.ui.tasks import Tasks

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtWidgets import QWidget

    from ribpatch.core.job import Job
    from ribpatch.report.page import Told
    from ribpatch.ui.session import Session
    from ribpatch.ui.settings import Settings

AUTOSAVE_MS = 150  # between two copies at the least; later edits do not put one off


class Documents(Incoming):
    """Everything between the session and the disk. ``state`` carries the save state in words."""

    state = Signal(object)

    def __init__(self, session: Session, settings: Settings, tasks: Tasks, window: QWidget) -> None:
        super().__init__(session, settings, tasks, window)
        self._autosave = recovery.Autosave()
        # A process of its own: neither a long search nor a busy window holds up what would be lost with it.
        self._keeping = Keeping(self)
        self._keeping.done.connect(lambda error: self._kept(error))
        self._members = Tasks(self)  # photographs and recordings beside the copy, and the text of a large job
        self._writing = self._void = False
        self._given = -inf  # when a copy was last given to be written
        self.settled: Callable[[], bool] = lambda: True
        self._saved_at = self._kept_at = ""
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(AUTOSAVE_MS)
        self._timer.timeout.connect(self._keep)
        # Not the session's own signal: that comes while the stack still counts the step as not yet taken.
        session.stack.indexChanged.connect(lambda _index: self._changed())
        session.file_changed.connect(lambda: self.tell_state())
        session.stack.cleanChanged.connect(lambda _clean: self.tell_state())
        self.watch = FileWatch(session, self)
        self.watch.noticed.connect(lambda said: self._session.told.emit(said))

    # ---- save state and autosave ----

    def tell_state(self) -> None:
        """Say whether the job is saved."""
        if not self._session.is_open:
            self.state.emit("")
            return
        where = self._session.path.name if self._session.path else "not saved to a file yet"
        if self._session.unsaved:
            kept = f", kept for recovery {self._kept_at}" if self._kept_at else ""
            self.state.emit(f"{where}: unsaved changes{kept}" if self._session.path else f"{where}{kept}")
        else:
            self.state.emit(f"{where}: saved {self._saved_at}")

    def _changed(self) -> None:
        if self._session.is_open and not self._session.stack.isClean():
            # Where the window is at something for longer than that, the timer would come too late.
            if monotonic() - self._given > AUTOSAVE_MS / 1000:
                self._keep()
            elif not self._timer.isActive():
                self._timer.start()
        else:
            self._drop_copy()
        self.tell_state()

    def _drop_copy(self) -> None:
        """There is nothing to keep: drop the copy, and the one being written when it is done."""
        self._timer.stop()
        self._kept_at = ""
        if self._writing:
            self._void = True
        else:
            self._autosave.clear()

    def _keep(self) -> None:
        """Have the recovery copy written by its process: the text of the job is made here, which takes a millisecond or
        two, but for jobs of thousands of readings.
        """
        if not self._session.is_open or self._autosave.fault is not None:
            return
        self._writing, self._void, self._given = True, False, monotonic()
        self._timer.stop()
        job, path, album, mark = self._session.job, self._session.path, self._session.album, self._session.mark
        album.spare = self._autosave.members
        told = recovery.note_text(job, path, mark)
        if archive.is_quick(job):
            self._put(told, archive.job_json(job), None)
        else:
            self._members.run("", lambda: archive.job_json(job), lambda text, error: self._put(told, text, error))
        if members_of(job):
            self._members.run("", lambda: self._autosave.keep_members(job, album), self._members_kept)

    def _put(self, told: str, text: bytes | None, error: Exception | None) -> None:
        if text is None:
            self._kept(OSError(str(error)))
            return
        try:
            self._keeping.put(self._autosave.copy, self._autosave.note, told, text)
        except OSError as problem:
            self._kept(problem)

    def _members_kept(self, _result: Any, error: Exception | None) -> None:
        if error is not None:
            self._session.told.emit(said(error))

    def _kept(self, error: OSError | None) -> None:
        """The copy is written, or could not be, and why."""
        self._writing = False
        clean, void, self._void = self._session.stack.isClean(), self._void, False
        if void and not clean:
            self._timer.start()
        if clean or void:
            self._autosave.clear()  # saved, undone or left while the copy was being written
            return
        if error is not None:
            self._session.told.emit(recovery.not_kept(error).sentence)
            return
        self._kept_at = _clock()
        self.tell_state()

    def keep_now(self) -> None:
        """Write the recovery copy at once (when something went wrong)."""
        session = self._session
        if session.is_open and self._autosave.fault is None:
            self._keeping.close()  # what it was given is older than this
            self._members.wait()
            session.album.spare = self._autosave.members
            self._autosave.write(session.job, session.path, session.album, session.mark)

    def leave_for_recovery(self) -> None:
        """The program is made to end: what is not saved stays behind as a copy, else nothing does."""
        if self._session.is_open and not self._session.stack.isClean():
            self.keep_now()
        else:
            self._keeping.close()
            self._autosave.close()

    @property
    def cannot_keep(self) -> str:
        """Why nothing is kept for recovery, in a sentence; empty where it is."""
        return self._autosave.fault.sentence if self._autosave.fault is not None else ""

    def close(self) -> None:
        """End properly: nothing is left to recover."""
        self._timer.stop()
        self.watch.stop()
        self._tasks.close()
        self._keeping.close()
        self._members.close()
        self._autosave.close()
        self._session.close()

    # ---- opening ----

    def found(self) -> tuple[recovery.Found, ...]:
        """What a crash left behind."""
        return recovery.found()

    def may_leave(self) -> bool:
        """Whether the open job may be left: it is saved, or the user says so."""
        if not self.settled():
            return False
        if not self._session.is_open or self._session.stack.isClean():
            return True
        from PySide6.QtWidgets import QMessageBox

        box = QMessageBox(self._window)
        box.setWindowTitle("Unsaved changes")
        box.setText(f"{self._session.job.boat.name} has changes that are not saved.")
        save = box.addButton("Save", QMessageBox.ButtonRole.AcceptRole)
        leave = box.addButton("Leave without saving", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Stay", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        if box.clickedButton() is save:
            return self.save()
        return box.clickedButton() is leave

    def show_new(self, job: Job) -> None:
        """Put a new, unsaved job in the window."""
        self._drop_copy()
        self._session.show_job(job, None)

    def open(self, path: Path) -> bool:
        """Open a file; a sentence is told where it cannot be."""
        try:
            self._session.open(path)
        except Fault as fault:
            self._session.told.emit(fault.sentence)
            return False
        self._drop_copy()
        self._saved_at = datetime.fromtimestamp(path.stat().st_mtime).strftime("%H:%M")
        self._remember(path)
        self.tell_state()
        return True

    def _remember(self, path: Path) -> None:
        """List the job among the recent ones, with its boat."""
        from ribpatch.core.job_card import job_card

        self._settings.add_recent(path, job_card(self._session.job))

    def recover(self, item: recovery.Found) -> bool:
        """Open recovered work as unsaved changes of its file."""
        lock = None
        try:
            job = recovery.recover(item)
            self._session.check(job)
            if item.original is not None and item.original.is_file():
                lock = JobLock(item.original)
        except Fault as fault:
            self._session.told.emit(fault.sentence)
            return False
        self._session.show_job(job, item.original if lock else None, lock, item.mark, recovered=True)
        self._session.album.take_over(item.copy)
        self.keep_now()
        recovery.discard(item)
        self.tell_state()
        return True

    # ---- saving ----

    def save(self) -> bool:
        """Save to the job's file, or ask for one; ask what to do where something else changed the file."""
        if not self.settled():
            return False
        path = self._session.path
        if path is None:
            return self.save_as()
        said = self._session.changed_outside
        if not said:
            return self._save_to(path)
        return self._save_over(path, said)

    def _save_over(self, path: Path, said: str) -> bool:
        """The job's file is not what it was: ask which of the two is to stay."""
        chosen = which_stays(path, said, self._window)
        if chosen == KEEP_BOTH:
            return self._save_to(free_name(path))
        if chosen == OVERWRITE:
            return self._save_to(path)
        return self._reload() if chosen == RELOAD else False

    def _reload(self) -> bool:
        try:
            self._session.reload()
        except Fault as fault:
            self._session.told.emit(fault.sentence)
            return False
        self._session.told.emit("This is what the file holds now. Undo brings your own work back.")
        self._nothing_to_keep()
        return True

    def save_as(self) -> bool:
        """Ask for a file and save to it."""
        if not self.settled():
            return False
        proposed = self._session.path or Path(file_name(self._session.job.boat.name) + archive.SUFFIX)
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getSaveFileName(
            self._window, "Save the job", str(proposed), f"Rib Patch jobs (*{archive.SUFFIX})"
        )
        if not name:
            return False
        path = ended(Path(name), (archive.SUFFIX,), self._window)
        return path is not None and self._save_to(path)

    def _save_to(self, path: Path) -> bool:
        try:
            left_out = self._session.save(path)
        except Fault as fault:
            self._session.told.emit(fault.sentence)
            return False
        self._nothing_to_keep()
        self._remember(path)
        if left_out:
            self._session.told.emit(left_out_words(left_out, self._session.job, self._session.path or path))
        return True

    def _nothing_to_keep(self) -> None:
        """All is in the file."""
        self._drop_copy()
        self._saved_at = _clock()
        self.tell_state()

    # ---- papers ----

    def write_paper(self, path: Path, name: str, make: Callable[[Told], bytes]) -> None:
        """Make a paper beside the window and write it whole; called off, nothing is written."""
        inputs = (self._session.path,) if self._session.path else ()

        def work(told: Told) -> Path:
            write_output(path, make(told), inputs)
            return path

        def done(result: Any, error: Exception | None) -> None:
            self._session.told.emit(f"{name} written to {result}" if error is None else said(error))

        self._tasks.run_steps(
            f"writing {name}",
            work,
            done,
            lambda: self._session.told.emit(f"{name} was called off; nothing is written."),
            finish=True,
        )


def _clock() -> str:
    return datetime.now().strftime("%H:%M")

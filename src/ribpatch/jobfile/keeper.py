"""Hands the recovery copy to the process that writes it, without ever waiting for it.

Of what is not yet under way only the newest is kept: an older copy that was never begun is no loss.
"""

from __future__ import annotations

import contextlib
import json
import os
import subprocess
import sys
from pathlib import Path

PROCESS = Path(__file__).with_name("keeper_process.py")
PATIENCE = 10.0  # s that a proper end waits for what is being written


class Keeper:
    """One process and what it was given. ``into`` and ``out`` are its pipes, to be waited for by the window."""

    def __init__(self) -> None:
        self._process = subprocess.Popen(
            [sys.executable, "-I", "-S", str(PROCESS)],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
        )
        assert self._process.stdin is not None and self._process.stdout is not None
        self._in, self._out = self._process.stdin, self._process.stdout
        self.into, self.out = self._in.fileno(), self._out.fileno()
        os.set_blocking(self.into, False)
        os.set_blocking(self.out, False)
        self._rest = memoryview(b"")
        self._next: bytes | None = None
        self._said = b""
        self._serial = self._answered = 0

    @property
    def alive(self) -> bool:
        """Whether the process runs."""
        return self._process.poll() is None

    @property
    def busy(self) -> bool:
        """Whether something is not yet written."""
        return self._answered < self._serial

    @property
    def unsent(self) -> bool:
        """Whether something waits for room in the pipe."""
        return bool(self._rest) or self._next is not None

    def put(self, copy: Path, note: Path, told: str, job: bytes) -> None:
        """Give it a copy to write: its place, the note's place and text, the bytes of ``job.json``."""
        self._serial += 1
        head = {"serial": self._serial, "copy": str(copy), "note": str(note), "told": told, "size": len(job)}
        self._next = json.dumps(head).encode() + b"\n" + job
        self.send()

    def send(self) -> None:
        """Send as much as the pipe takes."""
        with contextlib.suppress(BlockingIOError, BrokenPipeError):
            while self.unsent:
                if not self._rest:
                    self._rest, self._next = memoryview(self._next or b""), None
                self._rest = self._rest[os.write(self.into, self._rest) :]

    def hear(self) -> tuple[OSError | None, ...]:
        """What became of each copy that is done since: None where it is written, else why not."""
        try:
            read = os.read(self.out, 1 << 16)
        except BlockingIOError:
            return ()
        if not read:
            return (OSError(0, "the process that writes it has ended"),) if self.busy else ()
        *lines, self._said = (self._said + read).split(b"\n")
        made: list[OSError | None] = []
        for answer in map(json.loads, lines):
            self._answered = answer["serial"]
            made.append(OSError(answer["errno"], answer["error"]) if "error" in answer else None)
        return tuple(made)

    def close(self) -> None:
        """Have it write what it was given, and end it."""
        with contextlib.suppress(OSError):
            os.set_blocking(self.into, True)
            self.send()
        with contextlib.suppress(OSError):
            self._in.close()
        try:
            self._process.wait(PATIENCE)
        except subprocess.TimeoutExpired:
            self._process.kill()
            self._process.wait()
        self._out.close()

"""A call to the processes beside the application that there may be something to do: what answers calls after
each change, they wait for it instead of asking again and again. A lost call costs a wait, nothing else.
"""

import contextlib
import os
import select
import time
from pathlib import Path

WORK, ASK = "wake", "wake-ask"  # pipes in the data folder, one for each kind of process that waits


class Over(Exception):
    """Nobody holds our input open any more: whoever began us has ended."""


def call(folder: Path) -> None:
    """Call whoever waits on this folder; nothing where nobody does."""
    for name in (WORK, ASK):
        with contextlib.suppress(OSError):
            pipe = os.open(folder / name, os.O_WRONLY | os.O_NONBLOCK)
            try:
                os.write(pipe, b".")
            finally:
                os.close(pipe)


class Waiting:
    """One who waits for calls. Of several on one pipe each call reaches one: they share the work."""

    def __init__(self, folder: Path, name: str) -> None:
        with contextlib.suppress(FileExistsError):
            os.mkfifo(folder / name, 0o600)
        # For writing too: without one who could write, a pipe is at its end and no wait ever lasts.
        self.pipe = os.open(folder / name, os.O_RDWR | os.O_NONBLOCK)

    def wait(self, least_s: float, most_s: float) -> bool:
        """Wait for a call, at least and at most so long. Whether one came. Raises Over."""
        rest(least_s)
        ready = self._ready([self.pipe, 0], most_s - least_s)
        if 0 in ready:
            _heard()
        if self.pipe not in ready:
            return False
        with contextlib.suppress(BlockingIOError):
            os.read(self.pipe, 65_536)
        return True

    @staticmethod
    def _ready(files: list[int], most_s: float) -> list[int]:
        return select.select(files, [], [], max(0.0, most_s))[0]


def rest(seconds: float, until: int | None = None) -> None:
    """Do nothing for so long, or until a file can be read. Raises Over."""
    end = time.monotonic() + seconds
    while (left := end - time.monotonic()) > 0:
        ready = select.select([0] if until is None else [0, until], [], [], left)[0]
        if 0 in ready:
            _heard()
        if until is not None and until in ready:
            return


def _heard() -> None:
    """What comes in by the input means nothing, its end does."""
    if not os.read(0, 65_536):
        raise Over

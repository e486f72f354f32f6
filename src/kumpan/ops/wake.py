"""A call to the worker that there may be something to do: what answers calls after each change, the worker
waits for it instead of asking again and again. One that is lost costs a wait, nothing else.
"""

import contextlib
import os
import select
import time
from pathlib import Path

_PIPE = "wake"  # in the data folder


def call(folder: Path) -> None:
    """Call whoever waits on this folder; nothing where nobody does."""
    with contextlib.suppress(OSError):
        pipe = os.open(folder / _PIPE, os.O_WRONLY | os.O_NONBLOCK)
        try:
            os.write(pipe, b".")
        finally:
            os.close(pipe)


class Waiting:
    """One who waits for calls. Of several each call reaches one: they share the work."""

    def __init__(self, folder: Path) -> None:
        with contextlib.suppress(FileExistsError):
            os.mkfifo(folder / _PIPE, 0o600)
        # For writing too: without one who could write, a pipe is at its end and no wait ever lasts.
        self.pipe = os.open(folder / _PIPE, os.O_RDWR | os.O_NONBLOCK)

    def wait(self, least_s: float, most_s: float) -> bool:
        """Wait for a call, at least and at most so long. Whether one came."""
        time.sleep(least_s)
        called = bool(select.select([self.pipe], [], [], most_s - least_s)[0])
        if called:
            with contextlib.suppress(BlockingIOError):
                os.read(self.pipe, 65_536)
        return called

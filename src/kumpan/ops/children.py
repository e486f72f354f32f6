"""The processes of a running Kumpan: forked from its launcher once all is loaded, kept running, and ended
with it, however it ends.
"""

import os
import select
import signal
import sys
import time
import traceback
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

_AGAIN_S = 1.0  # one that ends is begun again, but not at once: it may end at once again
_TICK_S = 0.02


@dataclass(frozen=True)
class _Child:
    name: str
    run: Callable[[], int]


class Children:
    """All of them read one pipe as their input, of which the launcher alone holds the other end: it closes
    when the launcher lets go of it or dies, and each ends by that. The launcher must have one thread alone.
    """

    def __init__(self, not_theirs: Iterable[int] = ()) -> None:
        """not_theirs: files that only the launcher holds, as its lock."""
        self.input, self.held_open = os.pipe()
        self.not_theirs = tuple(not_theirs)
        self.running: dict[int, _Child] = {}
        self.waiting: list[tuple[float, _Child]] = []
        self.told, tell = os.pipe()
        for end in (self.told, tell):
            os.set_blocking(end, False)
        signal.signal(signal.SIGCHLD, lambda *_: None)
        signal.set_wakeup_fd(tell, warn_on_full_buffer=False)

    def begin(self, name: str, run: Callable[[], int]) -> None:
        """Begin a child, which returns its exit status. name: as the system shows it."""
        self._fork(_Child(name, run))

    def wait(self, most_s: float) -> None:
        """Wait so long, or until a child of the launcher ends; begin again what ended."""
        if self.waiting:
            most_s = min(most_s, _AGAIN_S)
        if select.select([self.told], [], [], most_s)[0]:
            os.read(self.told, 4096)
        now = time.monotonic()
        self.waiting += [(now + _AGAIN_S, child) for child in self._ended()]
        due = [child for at, child in self.waiting if at <= now]
        self.waiting = [(at, child) for at, child in self.waiting if at > now]
        for child in due:
            self._fork(child)

    def end(self, patience_s: float = 8.0) -> None:
        """Let them end by themselves; kill what has not by then."""
        os.close(self.held_open)
        last = time.monotonic() + patience_s
        while self.running and time.monotonic() < last:
            self._ended()
            time.sleep(_TICK_S)
        for pid in self.running:
            os.kill(pid, signal.SIGKILL)
            os.waitpid(pid, 0)

    def _ended(self) -> list[_Child]:
        gone = [pid for pid in self.running if os.waitpid(pid, os.WNOHANG)[0] == pid]
        return [self.running.pop(pid) for pid in gone]

    def _fork(self, child: _Child) -> None:
        sys.stdout.flush()
        sys.stderr.flush()
        # A Ctrl-C between the fork and what the child makes of one would end it with a traceback.
        signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGINT})
        pid = os.fork()
        if pid:
            self.running[pid] = child
            signal.pthread_sigmask(signal.SIG_UNBLOCK, {signal.SIGINT})
            return
        status = 1
        try:
            self._become(child.name)
            signal.pthread_sigmask(signal.SIG_UNBLOCK, {signal.SIGINT})
            status = child.run()
        except BaseException:  # whatever it was: a child never goes on as the launcher
            traceback.print_exc()
        finally:
            sys.stdout.flush()
            sys.stderr.flush()
            os._exit(status)

    def _become(self, name: str) -> None:
        os.close(self.held_open)
        os.dup2(self.input, 0)
        for file in (self.input, *self.not_theirs):
            os.close(file)
        sys.stdin = os.fdopen(0)
        # Ctrl-C goes to the whole group; the launcher ends its children in their order.
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        signal.signal(signal.SIGTERM, signal.SIG_DFL)
        signal.signal(signal.SIGCHLD, signal.SIG_DFL)
        signal.set_wakeup_fd(-1)
        Path("/proc/self/comm").write_text(name[:15])

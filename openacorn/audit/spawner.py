"""Audit workers are forked from one process that has loaded what an audit needs: each starts at once, and they share its memory.

That process is a fork of the application from before its first thread (`prepare`), else a program of its own
(`python -m openacorn.audit.spawner FD`). It is asked over a socket: the end of another socket makes a worker that is served by it,
answered by its process id; a process id is answered by the exit status of that worker, once it has ended. One question is under way
at a time, so that each is read in one piece.
"""

import os
import signal
import socket
import subprocess
import sys
import threading
from collections.abc import Callable
from typing import NoReturn

ANSWERED_WITHIN_S = 60.0
"""The first worker waits for what an audit loads: some seconds on a busy machine."""

WORKER = b"+"
"""The message that comes with a worker's socket."""


class SpawnerLost(Exception):
    """The process that workers are forked from does not answer; another can be started."""


class Spawner:
    """The process that workers are forked from, as its owner sees it. control: where it is asked; wait: for its end."""

    def __init__(self, control: socket.socket, pid: int, wait: Callable[[], object]) -> None:
        self._control, self._pid, self._wait = control, pid, wait
        self._control.settimeout(ANSWERED_WITHIN_S)
        self._asking = threading.Lock()

    @classmethod
    def start(cls) -> "Spawner":
        """Start one as a program of its own. Raises OSError."""
        mine, theirs = socket.socketpair()
        with theirs:
            command = [sys.executable, "-m", "openacorn.audit.spawner", str(theirs.fileno())]
            process = subprocess.Popen(command, pass_fds=(theirs.fileno(),), start_new_session=True)
        return cls(mine, process.pid, process.wait)

    def spawn(self) -> tuple[int, socket.socket]:
        """Make a worker; return its process id and the socket that it is served by. Raises SpawnerLost."""
        mine, theirs = socket.socketpair()
        with theirs:
            try:
                return int(self._ask(WORKER, theirs)), mine
            except SpawnerLost:
                mine.close()
                raise

    def exit_status(self, worker: int) -> int:
        """How a worker whose socket is closed ended: as `Popen.returncode`. To be asked once for each. Raises SpawnerLost."""
        return int(self._ask(str(worker).encode()))

    def _ask(self, what: bytes, *given: socket.socket) -> bytes:
        with self._asking:
            try:
                socket.send_fds(self._control, [what], [end.fileno() for end in given])
                answer = self._control.recv(64)
            except OSError as error:
                raise SpawnerLost(f"no audit worker could be started: {error.strerror or error}") from error
        if not answer:
            raise SpawnerLost("no audit worker could be started: the process that makes them has ended")
        return answer

    def close(self) -> None:
        """End it, even if it stands still; its workers end with their own sockets."""
        self._control.close()
        os.kill(self._pid, signal.SIGKILL)
        self._wait()


_prepared: list[Spawner] = []


def prepare() -> None:
    """Fork a spawner off this process, for the first that asks for one; not once there are threads, which no fork takes along.

    On Linux alone: other systems' own libraries do not all bear a fork.
    """
    if sys.platform != "linux" or threading.active_count() > 1 or _prepared:
        return
    mine, theirs = socket.socketpair()
    process = os.fork()
    if process == 0:
        try:
            os.setsid()
            os.closerange(3, theirs.fileno())
            os.closerange(theirs.fileno() + 1, os.sysconf("SC_OPEN_MAX"))
            _serve(theirs)
        finally:  # a fork must not go on with what its parent had begun
            os._exit(1)
    theirs.close()
    _prepared.append(Spawner(mine, process, lambda: os.waitpid(process, 0)))


def get_spawner() -> Spawner:
    """The one that was prepared, if nobody has it yet, else a new one. Raises OSError."""
    return _prepared.pop() if _prepared else Spawner.start()


def _serve(control: socket.socket) -> NoReturn:
    """Fork a worker for each socket that comes, until there is nobody to ask for more."""
    from openacorn.audit.worker import get_ready, work

    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGCHLD):
        signal.signal(number, signal.SIG_DFL)
    while True:
        what, given, _, _ = socket.recv_fds(control, 64, 1)
        if not what:
            os._exit(0)
        if what != WORKER:
            control.send(b"%d" % os.waitstatus_to_exitcode(os.waitpid(int(what), 0)[1]))
            continue
        get_ready()
        process = os.fork()
        if process == 0:
            control.close()
            work(socket.socket(fileno=given[0]))
        os.close(given[0])
        control.send(b"%d" % process)


if __name__ == "__main__":
    _serve(socket.socket(fileno=int(sys.argv[1])))

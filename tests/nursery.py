"""Starts applications quickly: a process that has everything imported forks one for each line it reads.

What starts is `acorn` with its arguments, a whole process in a session of its own, as the command line would start it;
only the imports are shared. `tests/test_clean_clone.py` and the launcher's tests start it by the command itself.
"""

import json
import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]


class Child:
    """An application forked by the nursery."""

    def __init__(self, pid: int) -> None:
        self.pid = pid

    @property
    def running(self) -> bool:
        """Is it there still? The nursery reaps it as soon as it has ended."""
        try:
            os.kill(self.pid, 0)
        except ProcessLookupError:
            return False
        return True

    def end(self, how: int, within_s: float) -> None:
        """Send a signal and wait for the end."""
        if self.running:
            os.kill(self.pid, how)
        until = time.monotonic() + within_s
        while self.running:
            assert time.monotonic() < until, f"process {self.pid} does not end by signal {how}"
            time.sleep(0.02)


class Nursery:
    """The process that forks; made at first use, ended with the tests."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[str] | None = None

    def serve(self, arguments: list[str], log: Path) -> Child:
        """Start `acorn serve` with these arguments; what it writes to standard error goes to the end of `log`."""
        return self._fork(arguments, log, {})

    def _fork(self, arguments: list[str], log: Path, more: dict[str, str]) -> Child:
        if self._process is None:
            self._process = subprocess.Popen(
                [sys.executable, "-m", "tests.nursery"],
                cwd=ROOT,
                env={**os.environ, "PYTHONPATH": str(ROOT), "ACORN_STRICT": "1"},
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                text=True,
            )
        assert self._process.stdin is not None
        assert self._process.stdout is not None
        self._process.stdin.write(json.dumps([str(log), arguments, more]) + "\n")
        self._process.stdin.flush()
        return Child(int(self._process.stdout.readline()))

    def run(self, arguments: list[str], data: Path | None, within_s: float) -> subprocess.CompletedProcess[str]:
        """Run any command to its end; `data`: the data folder that it finds in its environment."""
        with tempfile.TemporaryDirectory() as place:
            out, errors, code = (Path(place) / name for name in ("out", "errors", "code"))
            child = self._fork(arguments, errors, {"out": str(out), "code": str(code), "data": str(data or "")})
            until = time.monotonic() + within_s
            while child.running:
                assert time.monotonic() < until, f"acorn {arguments} does not end"
                time.sleep(0.02)
            texts = [path.read_text(encoding="utf-8") for path in (code, out, errors)]
        return subprocess.CompletedProcess(arguments, int(texts[0]), texts[1], texts[2])

    def close(self) -> None:
        """End the nursery; what it forked has ended by then."""
        if self._process is not None:
            self._process.communicate(timeout=30)
            self._process = None


def _become(log: str, arguments: list[str], more: dict[str, str]) -> None:
    """The child: a session of its own, silent but for its log, then the command. more: files for standard output and the exit
    status, and the data folder, of a command that ends."""
    os.setsid()
    for number in (signal.SIGCHLD, signal.SIGINT):
        signal.signal(number, signal.default_int_handler if number == signal.SIGINT else signal.SIG_DFL)
    null, errors, out = (
        os.open(name, os.O_RDWR | os.O_APPEND | os.O_CREAT) for name in (os.devnull, log, more.get("out", os.devnull))
    )
    for stream, target in ((0, null), (1, out), (2, errors)):
        os.dup2(target, stream)
    sys.argv = ["acorn", *arguments]
    if more.get("data"):
        os.environ["ACORN_DATA"] = more["data"]
    from openacorn.cli import main

    status: object = 0
    try:
        main()
    except SystemExit as end:
        status = end.code or 0
    sys.stdout.flush()
    if "code" in more:
        Path(more["code"]).write_text(str(status), encoding="utf-8")


def _main() -> None:
    from openacorn.api.app import create_app
    from openacorn.audit.worker import get_ready
    from openacorn.collecting import keep_for_good
    from openacorn.settings import Settings

    get_ready()  # audit workers are forked off what is forked here
    create_app(Path(os.devnull), Settings())  # every module that an application needs is there now
    keep_for_good()
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # ended children leave nothing behind
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    for line in sys.stdin:
        log, arguments, more = json.loads(line)
        child = os.fork()
        if child == 0:
            _become(log, arguments, more)
            os._exit(0)
        print(child, flush=True)


if __name__ == "__main__":
    _main()

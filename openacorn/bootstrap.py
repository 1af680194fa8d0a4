"""Set up whatever a command needs, then hand over to it. Standard library only: nothing is installed yet when this runs."""

import hashlib
import os
import shutil
import subprocess
import sys
from collections.abc import Iterable
from pathlib import Path

from openacorn.progress import step
from openacorn.usage import commands, usage

ROOT = Path(__file__).resolve().parents[1]
VENV = ROOT / ".venv"
BYTECODE = VENV / "bytecode"
WEB = ROOT / "web"
REFERENCES = ROOT / "tests" / "references"
MIN_NODE = 20
NEEDS_PAGES = {"demo", "serve", "test"}
NEEDS_DEVELOPMENT = {"test", "bench"}
PIP = ("--disable-pip-version-check", "-q", "--no-deps", "--no-compile")
"""The lock names everything, so nothing is left to resolve; what is imported is compiled then, not all that is there."""


class SetupError(Exception):
    """Something that a person must do first; the message is one line that says what."""


def _digest(paths: Iterable[Path]) -> str:
    whole = hashlib.sha256()
    for path in sorted(paths):
        whole.update(str(path.relative_to(ROOT)).encode())
        whole.update(path.read_bytes())
    return whole.hexdigest()


def _step(text: str, stamp: Path, state: str, commands: list[list[str]], cwd: Path) -> None:
    """Run commands unless `stamp` says that exactly this was done before; output is shown only if they fail."""
    if stamp.exists() and stamp.read_text() == state:
        return
    with step(text):
        for command in commands:
            done = subprocess.run(command, cwd=cwd, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
            if done.returncode != 0:
                print(f"\n{done.stdout[-3000:]}", file=sys.stderr)
                raise SetupError(
                    f"{text} failed: {' '.join(command[:4])} … (exit {done.returncode}); the end of its output is above"
                )
    stamp.write_text(state)


def set_up_python(*, develop: bool) -> None:
    """The virtual environment with the locked packages."""
    lock = ROOT / ("requirements-dev.lock" if develop else "requirements.lock")
    stamp = VENV / ".acorn-packages"
    state = _digest([lock])
    develop_state = _digest([ROOT / "requirements-dev.lock"])
    if not develop and stamp.exists() and stamp.read_text() == develop_state:
        return  # the development set holds all of the other
    if not (VENV / "bin" / "python").exists():
        try:
            import ensurepip  # noqa: F401 - Debian ships it apart
        except ImportError:
            raise SetupError(
                "Python's venv module is incomplete; on Debian run: apt-get install python3-venv"
            ) from None
    commands = [
        [sys.executable, "-m", "venv", str(VENV)],
        [str(VENV / "bin" / "python"), "-m", "pip", "install", *PIP, "-r", str(lock)],
    ]
    _step("Python packages", stamp, state, commands, ROOT)


def _check_node() -> None:
    node = shutil.which("node")
    if not node or not shutil.which("npm"):
        raise SetupError(
            f"Node.js {MIN_NODE} or newer with npm is needed to build the pages and was not found; install it and try again"
        )
    version = subprocess.run([node, "--version"], capture_output=True, text=True).stdout.strip()
    if int(version.lstrip("v").split(".")[0] or 0) < MIN_NODE:
        raise SetupError(f"Node.js {MIN_NODE} or newer is needed, this is {version}; install a newer one and try again")


def set_up_pages() -> None:
    """The front end's packages, and its build whenever a source changed."""
    lock = WEB / "package-lock.json"
    # the types of the API are made out of its description when building
    sources = [path for path in (WEB / "src").rglob("*") if path.is_file() and path.name != "schema.d.ts"]
    sources += [WEB / name for name in ("index.html", "vite.config.ts", "package.json", "openapi.json")]
    built = _digest([lock, *sources])
    if (WEB / "dist" / ".acorn-build").exists() and (WEB / "dist" / ".acorn-build").read_text() == built:
        return
    _check_node()
    _step("page packages", WEB / "node_modules" / ".acorn-packages", _digest([lock]), [["npm", "ci"]], WEB)
    _step("building the pages", WEB / "dist" / ".acorn-build", built, [["npm", "run", "build"]], WEB)


def set_up_browser() -> None:
    """Debian's Chromium and its driver, for tests that drive the interface."""
    if shutil.which("chromium") and shutil.which("chromedriver"):
        return
    line = "apt-get update && apt-get install -y chromium chromium-driver"
    prefix = [] if os.geteuid() == 0 else ["sudo", "-n"]
    if not shutil.which("apt-get") or (prefix and not shutil.which("sudo")):
        raise SetupError(f"the browser tests need Chromium and ChromeDriver; run as root: {line}")
    quiet = {
        "stdout": subprocess.DEVNULL,
        "stderr": subprocess.DEVNULL,
        "env": {**os.environ, "DEBIAN_FRONTEND": "noninteractive"},
    }
    with step("Chromium and ChromeDriver"):
        for part in (["apt-get", "update"], ["apt-get", "install", "-y", "chromium", "chromium-driver"]):
            if subprocess.run([*prefix, *part], **quiet).returncode != 0:  # type: ignore[call-overload]
                raise SetupError(f"Chromium could not be installed; run as root: {line}")


def set_up_references() -> None:
    """Pages and code that nobody here wrote, for tests to check against."""
    lock, wheels = REFERENCES / "package-lock.json", REFERENCES / "requirements.txt"
    pip = [
        str(VENV / "bin" / "python"),
        "-m",
        "pip",
        "install",
        *PIP,
        "--require-hashes",
        "--target",
        "python",
        "-r",
        wheels.name,
    ]
    _check_node()
    _step(
        "reference packages",
        REFERENCES / ".acorn-packages",
        _digest([lock, wheels]),
        [["npm", "ci", "--ignore-scripts"], pip],
        REFERENCES,
    )


def _environment() -> dict[str, str]:
    """What the command runs in. Bytecode is kept in our own folder, also where the user wants none beside sources: without it
    every start compiles a thousand modules."""
    kept = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    return kept | {"PYTHONPATH": str(ROOT), "PYTHONPYCACHEPREFIX": str(BYTECODE)}


def main(arguments: list[str]) -> None:
    """Set up for the command, then become it."""
    command = arguments[0] if arguments else ""
    if command in {"", "-h", "--help", "help"}:
        print(usage(), end="")
        return
    if command not in {known.name for known in commands()}:
        raise SetupError(f"there is no command {command!r}; ./acorn --help lists them")
    set_up_python(develop=command in NEEDS_DEVELOPMENT)
    if command in NEEDS_PAGES:
        set_up_pages()
    if command == "test" or "wild" in arguments:
        set_up_references()
    if command == "test" and "fast" not in arguments:
        set_up_browser()
    python = str(VENV / "bin" / "python")
    os.execve(python, [python, "-m", "openacorn.cli", *arguments], _environment())


if __name__ == "__main__":
    try:
        main(sys.argv[1:])
    except SetupError as error:
        print(f"acorn: {error}", file=sys.stderr)
        sys.exit(1)
    except KeyboardInterrupt:
        print("acorn: stopped during set-up; start it again to go on", file=sys.stderr)
        sys.exit(130)

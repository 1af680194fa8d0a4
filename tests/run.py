"""Everything that must hold, in the order in which a failure is found soonest. `./acorn test [fast]` ends up here."""

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
WEB = ROOT / "web"


def _steps(fast: bool) -> list[tuple[str, list[str], Path]]:
    python = sys.executable
    pytest = [python, "-m", "pytest", "--durations", "10"]
    beside = [*pytest, "-n", "2", "--dist", "loadfile", "--no-loadscope-reorder"]
    if fast:
        tests = [
            ("tests", [*beside, "--hypothesis-profile", "fast", "-m", "not browser and not world and not wild"], ROOT)
        ]
    else:
        tests = [
            ("tests that need the machine to themselves", [*pytest, "-m", "alone"], ROOT),
            ("tests", [*beside, "-m", "not alone"], ROOT),
        ]
    return [
        ("lint", [python, "-m", "ruff", "check", "openacorn", "bench", "tests"], ROOT),
        ("format", [python, "-m", "ruff", "format", "--check", "-q", "openacorn", "bench", "tests"], ROOT),
        ("types", [python, "-m", "mypy"], ROOT),
        ("page lint", ["npm", "run", "--silent", "lint"], WEB),
        ("page types", ["npm", "run", "--silent", "types"], WEB),
        *tests,
    ]


def main() -> int:
    """Run every step; return 0 only if all passed."""
    for name, command, folder in _steps(fast=sys.argv[1:] == ["fast"]):
        print(f"== {name}", flush=True)
        if subprocess.run(command, cwd=folder).returncode != 0:
            print(f"== {name} failed", flush=True)
            return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())

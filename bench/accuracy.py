"""How right the audit is: its findings on the simulated coast against the coast's truth."""

import asyncio
import json
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from openacorn.audit.auditor import AuditTask, audit_task
from openacorn.audit.pool import Pool
from openacorn.core.audit.check import all_checks
from openacorn.core.audit.finding import Finding, Outcome
from openacorn.settings import Settings

CLAIMS = {"gap", "partial"}
BUSY = "busy"
TOO_BUSY = "too busy to tell"
"""Words of an unknown that says nothing of the check: this machine stood still meanwhile."""


@dataclass(slots=True)
class Tally:
    """One check's answers. A claim is a gap or partial; `false_claims` also counts those where only a browser could tell; `busy`:
    those that were not made because this machine was busy, which count for nothing else."""

    decidable: int = 0
    answered: int = 0
    agree: int = 0
    true_claims: int = 0
    claims: int = 0
    claims_due: int = 0
    false_claims: int = 0
    busy: int = 0
    wrong: list[str] = field(default_factory=list)

    def add(self, answer: str, truth: str, decidable: bool, where: str) -> None:
        """Count one answer."""
        if answer == BUSY:
            self.busy += 1
            return
        if answer in CLAIMS and truth not in CLAIMS:
            self.false_claims += 1
            self.wrong.append(f"{where}: said {answer}, is {truth}")
        if not decidable:
            return
        self.decidable += 1
        if answer == "unknown":
            return
        self.answered += 1
        self.agree += answer == truth
        self.claims += answer in CLAIMS
        self.claims_due += truth in CLAIMS
        self.true_claims += answer in CLAIMS and truth in CLAIMS
        if answer != truth:
            self.wrong.append(f"{where}: said {answer}, is {truth}")

    def figures(self) -> dict[str, Any]:
        """Shares over what was answered; 1.0 where there was nothing to get wrong."""

        def share(part: int, whole: int) -> float:
            return round(part / whole, 4) if whole else 1.0

        return {
            "decidable": self.decidable,
            "answered": share(self.answered, self.decidable),
            "recall": share(self.true_claims, self.claims_due),
            "precision": share(self.true_claims, self.claims),
            "agree": share(self.agree, self.answered),
            "false_claims": self.false_claims,
            "busy": self.busy,
            "wrong": self.wrong[:5],
        }


def _answer(finding: Finding) -> str:
    """An outcome, or BUSY."""
    return BUSY if finding.outcome is Outcome.UNKNOWN and TOO_BUSY in finding.reason else str(finding.outcome)


async def findings(tasks: list[AuditTask], settings: Settings) -> dict[int, dict[str, str]]:
    """Audit as the application does; return business id → check → outcome, or BUSY."""
    pool = Pool(settings)
    limit = asyncio.Semaphore(pool.capacity)

    async def one(task: AuditTask) -> tuple[int, dict[str, str]]:
        async with limit:
            result = await pool.audit(task)
        return task.business_id, {check: _answer(finding) for check, finding in result.findings.items()}

    try:
        return dict(await asyncio.gather(*map(one, tasks)))
    finally:
        await pool.close()


def measure_accuracy(world: Path, settings: Settings) -> dict[str, dict[str, Any]]:
    """Audit every business of the world by its listed website; return check → figures."""
    truth = json.loads((world / "truth.json").read_text(encoding="utf-8"))["businesses"]
    tasks = [audit_task(row) for row in truth]
    answer = asyncio.run(findings(tasks, settings))
    tallies: dict[str, Tally] = {check.id: Tally() for check in all_checks()}
    for row in truth:
        for check, (outcome, decidable) in row["checks"].items():
            tallies[check].add(answer[row["id"]][check], outcome, decidable, f"{row['archetype']} {row['website']}")
    return {check: tally.figures() for check, tally in tallies.items() if tally.decidable or tally.false_claims}


def archetype_counts(world: Path) -> Counter[str]:
    """How many businesses of each archetype the world holds."""
    truth = json.loads((world / "truth.json").read_text(encoding="utf-8"))["businesses"]
    return Counter(row["archetype"] for row in truth)

"""How right the checks are that only a browser can answer: a few sites of each kind, opened on a phone's screen."""

import asyncio
import json
from collections import defaultdict
from pathlib import Path
from typing import Any

from bench.accuracy import Tally, findings
from openacorn.audit.auditor import AuditTask
from openacorn.net.probes.browser_session import browser_paths
from openacorn.settings import Settings
from openacorn.sim.rendered_truth import rendered_truth
from openacorn.sim.site import Site

EACH = 2
"""Sites of each width, viewport and weight, of whatever look: a browser takes seconds a site."""

CHECKS = ("overflow", "load_measured")


def _chosen(world: Path) -> list[Site]:
    """Sites that answer, a few of every combination that the truth hangs on."""
    kinds: dict[tuple[Any, ...], list[Site]] = defaultdict(list)
    for row in json.loads((world / "sites.json").read_text(encoding="utf-8")):
        site = Site(**row)
        if site.transport == "ok" and not site.redirect_to:
            truth = rendered_truth(site)
            load = truth["load_measured"]
            if truth["overflow"].decidable:
                kinds[site.fixed_width, site.viewport, load.outcome, load.decidable].append(site)
    return [site for kind in sorted(kinds) for site in kinds[kind][:EACH]]


def measure_rendered(world: Path, settings: Settings) -> dict[str, dict[str, Any]]:
    """Check → figures; nothing where there is no browser."""
    if browser_paths() is None:
        return {}
    sites = dict(enumerate(_chosen(world)))
    tasks = [
        AuditTask(number, site.name, f"https://{site.host}/", "bench", "", deep=False, rendered=True)
        for number, site in sites.items()
    ]
    answer = asyncio.run(findings(tasks, settings))
    tallies = {check: Tally() for check in CHECKS}
    for number, site in sites.items():
        truth = rendered_truth(site)
        for check, tally in tallies.items():
            if truth[check].decidable:
                tally.add(answer[number][check], truth[check].outcome, True, site.host)
    return {check: tally.figures() for check, tally in tallies.items()}

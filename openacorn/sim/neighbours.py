"""What makes businesses hard to tell apart: chains with branches, and offices that share a switchboard."""

import random

from openacorn.sim.business import Business

CHAINS, OFFICES = 9, 14
BRANCHES = (2, 2, 3, 4)


def make_chains(businesses: list[Business], rng: random.Random) -> None:
    """Turn some businesses without a site into branches: the leader's name and site, an address and a phone of their own."""
    for _ in range(CHAINS):
        leaders = [
            b
            for b in businesses
            if b.host and not b.wrong_site and not b.closed and not b.chain and b.archetype == "modern"
        ]
        if not leaders:
            return
        leader = rng.choice(leaders)
        plain = [b for b in businesses if b.trade == leader.trade and b.archetype == "no_site" and not b.chain]
        for branch in rng.sample(plain, min(rng.choice(BRANCHES), len(plain))):
            branch.name, branch.host, branch.website = leader.name, leader.host, leader.website
            branch.archetype, branch.owner = leader.archetype, leader.owner
            branch.chain = leader.chain = leader.name


def make_offices(businesses: list[Business], rng: random.Random) -> None:
    """Put pairs of unlike trades behind one switchboard at one address."""
    loners = [b for b in businesses if not b.chain and not b.host]
    for _ in range(min(OFFICES, len(loners) // 4)):
        host, guest = rng.sample(loners, 2)
        if host.trade == guest.trade:
            continue
        guest.phone, guest.street, guest.town, guest.postcode = host.phone, host.street, host.town, host.postcode
        guest.lat, guest.lon = host.lat, host.lon

"""Rooms bring their routers; none of them hides what another one answers."""

import re

from openacorn.api.routers import routers


def test_no_route_with_a_parameter_takes_the_place_of_a_fixed_address() -> None:
    earlier: list[tuple[str, str]] = []
    hidden = []
    for router in routers():
        for route in router.routes:
            for method in getattr(route, "methods", None) or ():
                path = str(getattr(route, "path", ""))
                sample = path.replace("{", "x").replace("}", "x")
                for other_method, other in earlier:
                    pattern = re.sub(r"\{[^}]+\}", "[^/]+", other)
                    looser = other != path and path.count("{") < other.count("{")
                    if method == other_method and looser and re.fullmatch(pattern, sample):
                        hidden.append((other, path))
                earlier.append((method, path))
    assert (hidden, len(earlier) > 100) == ([], True)

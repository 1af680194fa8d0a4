"""Write down what the front end builds on: `python -m openacorn.api.contract`.

web/openapi.json, from which its types are made, and web/src/api/filters.json, the parts that a filter is made of.
"""

import json
from pathlib import Path
from typing import Any

from openacorn.api.app import create_app
from openacorn.core.desk import filters
from openacorn.settings import Settings

WEB = Path(__file__).resolve().parents[2] / "web"


def description() -> dict[str, Any]:
    """The OpenAPI document of the API as it is now."""
    return create_app(Path("unused"), Settings()).openapi()


def files() -> dict[Path, str]:
    """File → its text as it is committed."""
    of_filters = {
        "facets": filters.FACETS,
        "ranges": filters.RANGES,
        "many": sorted(filters.MANY),
        "barred": sorted(filters.BARRED),
        "others": filters.OTHERS,
        "marks": {"any": "", "must": filters.MUST, "never": filters.NEVER},
    }
    return {
        WEB / "openapi.json": json.dumps(description(), indent=1, sort_keys=True) + "\n",
        WEB / "src" / "api" / "filters.json": json.dumps(of_filters, indent=2) + "\n",
    }


if __name__ == "__main__":
    for path, text in files().items():
        path.write_text(text, encoding="utf-8")

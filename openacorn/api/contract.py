"""Write the API's description to a file: `python -m openacorn.api.contract web/openapi.json`.

The front end's types are made from it.
"""

import json
import sys
from pathlib import Path
from typing import Any

from openacorn.api.app import create_app
from openacorn.settings import Settings


def description() -> dict[str, Any]:
    """The OpenAPI document of the API as it is now."""
    return create_app(Path("unused"), Settings()).openapi()


def as_text() -> str:
    """The document as it is committed."""
    return json.dumps(description(), indent=1, sort_keys=True) + "\n"


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(as_text(), encoding="utf-8")

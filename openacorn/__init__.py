"""Open Acorn: finds an agency's next clients."""

import os

__version__ = "0.2.0"

# no plug-in of another package has a say in our models; looking for some costs every process a second of its start
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "1")

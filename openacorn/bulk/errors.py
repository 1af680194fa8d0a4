"""What can be wrong with a file of everything."""

from openacorn.errors import InvalidInput


class BulkError(InvalidInput):
    """A file that is not one of everything; the message says why. Nothing was changed."""

    where = "file"
    remedy = "choose a file that Open Acorn wrote as NDJSON"

"""Stored values are compressed as the standards say: other libraries read ours, and we read what an earlier version wrote."""

import gzip
import zlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.db.compression import NotCompressed, compress, decompress

BY_ANOTHER = "28b52ffd0468010100486172626f757220566574732c20313420486172626f7572205374726565740ae9c06911"
"""A frame with a checksum, by the command `zstd` 1.5.4."""


def test_a_frame_of_another_program_is_read() -> None:
    assert decompress(bytes.fromhex(BY_ANOTHER)) == b"Harbour Vets, 14 Harbour Street\n"


@given(st.binary(max_size=5000))
def test_what_is_compressed_comes_back_also_what_zlib_wrote(data: bytes) -> None:
    assert decompress(compress(data)) == data
    assert decompress(zlib.compress(data)) == data


@pytest.mark.parametrize("data", [b"", b"hello", gzip.compress(b"hello", mtime=0), compress(b"hello" * 99)[:-3]])
def test_what_is_not_or_damaged_is_said_to_be_so(data: bytes) -> None:
    with pytest.raises(NotCompressed):
        decompress(data)

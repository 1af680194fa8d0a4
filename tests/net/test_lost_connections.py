"""A loop's reports: silent for a connection that is gone, loud for all else."""

import asyncio
import logging
import ssl
from typing import Any

import pytest
import uvloop

from openacorn.lost_connections import pass_over_lost


@pytest.mark.parametrize("new_loop", [asyncio.new_event_loop, uvloop.new_event_loop])
def test_only_a_connection_that_is_gone_is_passed_over(new_loop: Any, caplog: pytest.LogCaptureFixture) -> None:
    async def report() -> None:
        loop = asyncio.get_running_loop()
        loop.set_exception_handler(pass_over_lost)
        server = await asyncio.start_server(lambda _, writer: writer.close(), "127.0.0.1", 0)
        _, writer = await asyncio.open_connection(*server.sockets[0].getsockname())
        said = {"exception": ValueError("x"), "transport": writer.transport}
        loop.call_exception_handler({"message": "while it is open", **said})
        # as uvloop reported it, of a connection that its transport did not yet call closing
        closed = RuntimeError("unable to perform operation on <TCPTransport closed=True 0x7f>; the handler is closed")
        loop.call_exception_handler(
            {"message": "Fatal error on SSL protocol", "exception": closed, "transport": writer.transport}
        )
        writer.close()
        loop.call_exception_handler({"message": "once it is closed", **said})
        loop.call_exception_handler({"message": "of no connection", "exception": ValueError("x")})
        # a handshake that failed once nobody waited for it, as a loop reports it when the future is collected
        abandoned = loop.create_future()
        abandoned.set_exception(ssl.SSLCertVerificationError(1, "certificate verify failed"))
        told = {
            "message": "Future exception was never retrieved",
            "exception": abandoned.exception(),
            "future": abandoned,
        }
        loop.call_exception_handler(told)
        server.close()

    loop = new_loop()
    with caplog.at_level(logging.ERROR):
        loop.run_until_complete(report())
    loop.close()
    heads = [record.getMessage().splitlines()[0] for record in caplog.records]
    assert heads == ["while it is open", "of no connection"]

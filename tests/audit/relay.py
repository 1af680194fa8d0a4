"""Passes TCP and UDP on from one address to another: `python relay.py FROM TO PORT …`, the ports the same on both sides."""

import asyncio
import contextlib
import sys
from functools import partial


async def _pipe(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    with contextlib.suppress(OSError):
        while piece := await reader.read(65_536):
            writer.write(piece)
            await writer.drain()
    writer.close()


class _Datagrams(asyncio.DatagramProtocol):
    def __init__(self, there: tuple[str, int]) -> None:
        self._there = there

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        self._transport = transport

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        asyncio.get_running_loop().create_task(self._ask(data, addr))

    async def _ask(self, data: bytes, addr: tuple[str, int]) -> None:
        answer: asyncio.Future[bytes] = asyncio.get_running_loop().create_future()

        class Asking(asyncio.DatagramProtocol):
            def datagram_received(self, data: bytes, _addr: tuple[str, int]) -> None:
                if not answer.done():
                    answer.set_result(data)

        transport, _ = await asyncio.get_running_loop().create_datagram_endpoint(Asking, remote_addr=self._there)
        transport.sendto(data)
        with contextlib.suppress(TimeoutError):
            self._transport.sendto(await asyncio.wait_for(answer, 5), addr)  # type: ignore[attr-defined]
        transport.close()


async def relay(here: str, there: str, ports: list[int]) -> None:
    """Pass on until the process is ended."""

    def to(port: int) -> object:
        async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            try:
                other, out = await asyncio.open_connection(there, port)
            except OSError:
                writer.close()
                return
            await asyncio.gather(_pipe(reader, out), _pipe(other, writer))

        return serve

    for port in ports:
        await asyncio.start_server(to(port), here, port)  # type: ignore[arg-type]
        datagrams = partial(_Datagrams, (there, port))
        await asyncio.get_running_loop().create_datagram_endpoint(datagrams, local_addr=(here, port))
    print("ready", flush=True)
    await asyncio.Event().wait()


if __name__ == "__main__":
    asyncio.run(relay(sys.argv[1], sys.argv[2], [int(port) for port in sys.argv[3:]]))

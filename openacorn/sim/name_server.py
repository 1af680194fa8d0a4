"""The coast's name server, over UDP and TCP (RFC 1035)."""

import asyncio
import json
from pathlib import Path
from typing import Any

from dnslib import MX, QTYPE, RCODE, RR, TXT, A, DNSRecord

Records = dict[str, dict[str, list[str]]]
"""Name → kind of record → its texts."""


class DnsProtocol(asyncio.DatagramProtocol):
    """Answers A, MX and TXT queries; other types get an empty answer, other names NXDOMAIN (RFC 1035)."""

    def __init__(self, zone: dict[str, str], records: Records) -> None:
        self._zone, self._records = zone, records

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        """The socket is open."""
        self._transport = transport

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        """One question, one answer."""
        self._transport.sendto(answer_dns(data, self._zone, self._records), addr)  # type: ignore[attr-defined]


def answer_dns(data: bytes, zone: dict[str, str], records: Records) -> bytes:
    """Return the reply to one DNS message. zone: name → address; records: name → kind → texts of further records."""
    question = DNSRecord.parse(data)
    reply = question.reply()
    name = str(question.q.qname).rstrip(".").lower()
    address = zone.get(name)
    more = records.get(name, {}).get(QTYPE.get(question.q.qtype), [])
    if address is None and name not in records:
        reply.header.rcode = RCODE.NXDOMAIN
    elif more:
        for text in more:
            reply.add_answer(_record(question.q.qname, question.q.qtype, text))
    elif address is not None and question.q.qtype == QTYPE.A:
        reply.add_answer(RR(question.q.qname, QTYPE.A, rdata=A(address), ttl=60))
    return bytes(reply.pack())


def _record(name: Any, kind: int, text: str) -> RR:
    if kind == QTYPE.MX:
        preference, _, host = text.partition(" ")
        return RR(name, kind, rdata=MX(host, int(preference)), ttl=60)
    return RR(name, kind, rdata=TXT([text[at : at + 255] for at in range(0, len(text), 255)]), ttl=60)


async def _answer_tcp(
    zone: dict[str, str], records: Records, reader: asyncio.StreamReader, writer: asyncio.StreamWriter
) -> None:
    try:
        length = int.from_bytes(await reader.readexactly(2), "big")
        reply = answer_dns(await reader.readexactly(length), zone, records)
        writer.write(len(reply).to_bytes(2, "big") + reply)
        await writer.drain()
    except asyncio.IncompleteReadError:
        pass
    finally:
        writer.close()


async def serve_names(world: Path, address: str, port: int) -> None:
    """Serve the world's names."""
    zone: dict[str, str] = json.loads((world / "zone.json").read_text(encoding="utf-8"))
    records: Records = json.loads((world / "records.json").read_text(encoding="utf-8"))
    loop = asyncio.get_running_loop()
    await loop.create_datagram_endpoint(lambda: DnsProtocol(zone, records), local_addr=(address, port))
    await asyncio.start_server(lambda reader, writer: _answer_tcp(zone, records, reader, writer), address, port)

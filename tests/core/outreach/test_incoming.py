"""What arrives is understood: reports that real servers sent, the examples of the standards, and what people write."""

import ast
import tarfile
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.outreach.answers import is_opt_out, is_refusal, own_words
from openacorn.core.outreach.incoming import IncomingKind, nobody_there, read_incoming

BOUNCES = Path(__file__).parent / "bounces" / "flufl.bounce-6.0.0.tar.gz"
"""The tests of flufl.bounce 6.0.0 (Apache 2.0, licence inside): reports of real servers, with what each says of whom."""

FOUND_FLOOR, KIND_FLOOR = 0.86, 0.80
"""Shares measured when this was written: 0.88 and 0.83. Its temporary and permanent differ from ours where a mailbox is full or an
attempt timed out: there the address is not dead."""


def _files() -> dict[str, bytes]:
    with tarfile.open(BOUNCES) as archive:
        return {Path(item.name).name: found.read() for item in archive if (found := archive.extractfile(item))}


def _expected(files: dict[str, bytes]) -> list[tuple[str, set[str], bool]]:
    tree = ast.parse(files["test_detectors.py"])
    table = next(
        node.value for node in tree.body if isinstance(node, ast.Assign) and ast.unparse(node.targets[0]) == "DETECTORS"
    )
    return [
        (file, {address.decode().lower() for address in found}, later)
        for _, file, found, later in ast.literal_eval(table)
    ]


def test_reports_of_real_servers() -> None:
    """Whom a report is about is found, and whether it is final, in the forms of some thirty kinds of servers."""
    files = _files()
    expected = [item for item in _expected(files) if item[1]]
    assert len(expected) > 100
    found = kind = 0
    for file, addresses, later in expected:
        read = read_incoming(files[file])
        found += addresses <= {item.address for item in read.undelivered}
        kind += read.kind is (IncomingKind.DELAY if later else IncomingKind.BOUNCE)
    assert found / len(expected) >= FOUND_FLOOR, f"{found} of {len(expected)}"
    assert kind / len(expected) >= KIND_FLOOR, f"{kind} of {len(expected)}"


RFC_3464_SIMPLE = b"""Date: Thu, 7 Jul 1994 17:16:05 -0400\r
From: Mail Delivery Subsystem <MAILER-DAEMON@CS.UTK.EDU>\r
Message-Id: <199407072116.RAA14128@CS.UTK.EDU>\r
Subject: Returned mail: Cannot send message for 5 days\r
To: <owner-info-mime@cs.utk.edu>\r
MIME-Version: 1.0\r
Content-Type: multipart/report; report-type=delivery-status;\r
      boundary="RAA14128.773615765/CS.UTK.EDU"\r
\r
--RAA14128.773615765/CS.UTK.EDU\r
\r
The original message was received at Sat, 2 Jul 1994 17:10:28 -0400\r
from root@localhost\r
\r
   ----- The following addresses had delivery problems -----\r
<louisl@larry.slip.umd.edu>  (unrecoverable error)\r
\r
--RAA14128.773615765/CS.UTK.EDU\r
content-type: message/delivery-status\r
\r
Reporting-MTA: dns; cs.utk.edu\r
\r
Original-Recipient: rfc822;louisl@larry.slip.umd.edu\r
Final-Recipient: rfc822;louisl@larry.slip.umd.edu\r
Action: failed\r
Status: 4.0.0\r
Diagnostic-Code: smtp; 426 connection timed out\r
Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400\r
\r
--RAA14128.773615765/CS.UTK.EDU\r
content-type: message/rfc822\r
\r
Message-ID: <original@example.org>\r
Subject: [original message goes here]\r
\r
--RAA14128.773615765/CS.UTK.EDU--\r
"""
"""RFC 3464, appendix E.1, "Simple DSN", with a Message-ID in what it returns."""


def test_the_standards_own_report() -> None:
    """RFC 3464, E.1: a time-out is no proof that the address is dead; the message that it returns is named."""
    found = read_incoming(RFC_3464_SIMPLE)
    assert found.kind is IncomingKind.DELAY
    assert [(item.address, item.status, item.said) for item in found.undelivered] == [
        ("louisl@larry.slip.umd.edu", "4.0.0", "426 connection timed out")
    ]
    assert "<original@example.org>" in found.answers


@pytest.mark.parametrize(
    ("said", "nobody"),
    [
        ("550 5.1.1 <a@b.example>: Recipient address rejected: User unknown in virtual mailbox table", True),
        ("550-5.1.1 The email account that you tried to reach does not exist.", True),
        ("550 5.2.1 The email account is disabled", True),
        ("550 No such user here", True),
        ("550 Unrouteable address", True),
        ("554 5.7.1 Service unavailable; client host blocked", False),
        ("550 5.7.26 This mail is unauthenticated", False),
        ("524 5.2.4 Mailing list expansion problem", False),
        ("552 5.2.2 Mailbox full", False),
        ("554 Message rejected as spam", False),
        ("550 5.4.1 Recipient address rejected: Access denied", False),
        ("421 4.1.1 try again", False),
    ],
)
def test_a_refusal_of_the_sender_is_no_dead_address(said: str, nobody: bool) -> None:
    """Replies as large mail services and common servers give them, from memory; codes by RFC 3463."""
    assert nobody_there(said) is nobody


def _mail(headers: str, text: str) -> bytes:
    return f"From: Mara Quist <mara@a.example>\r\nTo: us@b.example\r\n{headers}\r\n\r\n{text}".encode()


@pytest.mark.parametrize(
    ("headers", "kind"),
    [
        ("Subject: Re: Booking\r\nAuto-Submitted: auto-replied", IncomingKind.AUTOMATIC),  # RFC 3834, 5
        ("Subject: Re: Booking\r\nAuto-Submitted: no", IncomingKind.REPLY),
        ("Subject: Re: Booking\r\nPrecedence: bulk", IncomingKind.AUTOMATIC),
        ("Subject: Automatische Antwort: Booking", IncomingKind.AUTOMATIC),
        ("Subject: Re: Booking\r\nX-Autoreply: yes", IncomingKind.AUTOMATIC),
        ("Subject: =?utf-8?q?R=C3=A9ponse_automatique?= : Booking", IncomingKind.AUTOMATIC),
        ("Subject: Re: Booking\r\nIn-Reply-To: <a@b.example>", IncomingKind.REPLY),
    ],
)
def test_people_and_machines(headers: str, kind: IncomingKind) -> None:
    assert read_incoming(_mail(headers, "I read your message.")).kind is kind


OPT_OUTS = (
    "STOP", "stop.", "Unsubscribe", "Please remove me from your list.", "Take us off your mailing list please",
    "Do not contact me again", "Don’t email us again", "No more emails please", "Bitte nehmen Sie mich aus Ihrem Verteiler.",
    "Ich möchte mich abmelden", "Bitte keine weiteren E-Mails.", "Bitte schreiben Sie mir nicht mehr: nicht mehr anschreiben!",
    "Merci de me désabonner", "Désinscrivez-moi", "Ne me contactez plus, s’il vous plaît", "Je ne veux plus recevoir vos mails",
    "Quiero darme de baja", "Por favor, no me envíen más correos", "Cancellami dalla lista", "Non scrivetemi più",
    "Graag uitschrijven", "Ik wil me afmelden", "Por favor, removam-me da lista", "Não quero mais receber", "Avregistrera mig",
    "配信停止をお願いします", "请退订", "Отпишите меня",
)  # fmt: skip
ANSWERS = (
    "Thanks, please call me on Thursday.", "What does it cost?", "Bitte rufen Sie mich an.", "Oui, envoyez-moi un exemple.",
    "We stopped taking bookings online last year, can you help?", "I have no contact form, is that bad?",
    "Could you remove the old pictures from our page?", "Our office list is on the website.", "Wir haben keine Website, was kostet eine?",
    "Please stop by our shop next week!",
)  # fmt: skip


@pytest.mark.parametrize("text", OPT_OUTS)
def test_who_wants_no_more(text: str) -> None:
    assert read_incoming(_mail("Subject: Re: Booking", text)).kind is IncomingKind.OPT_OUT


@pytest.mark.parametrize("text", ANSWERS)
def test_who_does_not_say_so(text: str) -> None:
    assert not is_opt_out("Re: Booking", text)


def test_who_is_not_interested() -> None:
    assert all(map(is_refusal, ("No thanks!", "We are not interested.", "Kein Interesse", "Non merci", "No, gracias")))
    assert not any(map(is_refusal, ("Thanks a lot!", "I am interested.", "Gerne!")))


@pytest.mark.parametrize(
    ("text", "own"),
    [
        ("Yes please\n\nOn Mon, 2 Mar 2026 at 10:00, Ada <a@b.example> wrote:\n> Unsubscribe here", "Yes please"),
        ("Ja\n\nAm 02.03.2026 um 10:00 schrieb Ada Wren:\n> Text", "Ja"),
        ("Oui\n\nLe lun. 2 mars 2026 à 10:00, Ada\n<a@b.example> a écrit :\n> Texte", "Oui"),
        ("Yes\n-----Original Message-----\nFrom: x", "Yes"),
        ("Yes\n\n-- \nMara\nUnsubscribe", "Yes"),
        ("Above\n> quoted\nbelow", "Above\nbelow"),
        ("On Monday I can, on Tuesday not.\nMara", "On Monday I can, on Tuesday not.\nMara"),
    ],
)
def test_own_words_without_what_is_quoted(text: str, own: str) -> None:
    """An opt-out line in what is quoted back is ours, not theirs."""
    assert own_words(text) == own


@given(st.binary(max_size=400) | st.text(max_size=300).map(lambda text: _mail("Subject: x", text)))
def test_nothing_that_arrives_breaks_it(raw: bytes) -> None:
    """Whatever bytes lie in an inbox, they are read as something."""
    assert read_incoming(raw).kind in IncomingKind

"""Against real mail servers of Debian on loopback: Dovecot takes submissions, OpenSMTPD carries them, Dovecot keeps them."""

import datetime as dt
import http.server
import json
import shutil
import socket
import ssl
import subprocess
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID

from openacorn.core.outreach.compose import Envelope, compose
from openacorn.core.outreach.incoming import IncomingKind, nobody_there, read_incoming
from openacorn.net.inbox import look_in, read_after
from openacorn.net.mail_server import MailServerError, connect_imap, connect_submission
from openacorn.net.submission import Acceptance, Submitted, submit
from openacorn.settings import Settings, World

pytestmark = [
    pytest.mark.world,
    pytest.mark.skipif(not (shutil.which("dovecot") and shutil.which("smtpd")), reason="needs Dovecot and OpenSMTPD"),
]
HOST, USER, SECRET = "mail.example", "ada@wrenfold.example", "a password of the test"
PLACE_OF_MAIL = "/var/mail"

DOVECOT = """
base_dir = {folder}/run
log_path = {folder}/dovecot.log
protocols = imap lmtp submission
hostname = mail.example
submission_relay_host = 127.0.0.1
submission_relay_port = {relay}
listen = 127.0.0.1
auth_failure_delay = 0
ssl = required
ssl_cert = <{folder}/leaf.pem
ssl_key = <{folder}/leaf.key
mail_location = maildir:{folder}/mail/%u
first_valid_uid = 1
auth_mechanisms = plain xoauth2
passdb {{
  driver = passwd-file
  mechanisms = plain
  args = scheme=PLAIN username_format=%u {folder}/users
}}
passdb {{
  driver = oauth2
  mechanisms = xoauth2
  args = {folder}/oauth2.conf
}}
userdb {{
  driver = static
  args = uid=mail gid=mail home={folder}/mail/%u allow_all_users=yes
}}
service imap-login {{
  inet_listener imap {{
    port = {imap_plain}
  }}
  inet_listener imaps {{
    port = {imap}
    ssl = yes
  }}
}}
service submission-login {{
  inet_listener submission {{
    port = {submission_plain}
  }}
  inet_listener submissions {{
    port = {submission}
    ssl = yes
  }}
}}
service lmtp {{
  inet_listener lmtp {{
    address = 127.0.0.1
    port = {lmtp}
  }}
}}
"""
OAUTH2 = """
tokeninfo_url = http://127.0.0.1:{tokens}/?access_token=
username_attribute = email
"""
TOKEN = "ya29.a-token-of-the-test"
SMTPD = """
table people {{ {user} = mail }}
listen on 127.0.0.1 port {relay}
action "local" lmtp "127.0.0.1:{lmtp}" rcpt-to virtual <people>
match from any for domain "wrenfold.example" action "local"
"""


def _certificate(folder: Path) -> None:
    """An authority and a certificate for HOST, made here."""
    root_key = ec.generate_private_key(ec.SECP256R1())
    leaf_key = ec.generate_private_key(ec.SECP256R1())
    now = dt.datetime.now(dt.UTC)

    def name(text: str) -> x509.Name:
        return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, text)])

    def builder(subject: str, key: ec.EllipticCurvePrivateKey) -> x509.CertificateBuilder:
        return (
            x509.CertificateBuilder().subject_name(name(subject)).issuer_name(name("Root of the test")).public_key(key.public_key())
            .serial_number(x509.random_serial_number()).not_valid_before(now - dt.timedelta(1)).not_valid_after(now + dt.timedelta(30))
        )  # fmt: skip

    root = builder("Root of the test", root_key).add_extension(
        x509.BasicConstraints(ca=True, path_length=0), critical=True
    )
    root = root.add_extension(x509.SubjectKeyIdentifier.from_public_key(root_key.public_key()), critical=False)
    usage = x509.KeyUsage(True, False, False, False, False, True, True, False, False)
    root = root.add_extension(usage, critical=True)
    issuer = x509.AuthorityKeyIdentifier.from_issuer_public_key(root_key.public_key())
    leaf = builder(HOST, leaf_key).add_extension(x509.SubjectAlternativeName([x509.DNSName(HOST)]), critical=False)
    leaf = leaf.add_extension(issuer, critical=False)
    pem = serialization.Encoding.PEM
    (folder / "ca.pem").write_bytes(root.sign(root_key, hashes.SHA256()).public_bytes(pem))
    (folder / "leaf.pem").write_bytes(leaf.sign(root_key, hashes.SHA256()).public_bytes(pem))
    plain = leaf_key.private_bytes(pem, serialization.PrivateFormat.PKCS8, serialization.NoEncryption())
    (folder / "leaf.key").write_bytes(plain)
    (folder / "leaf.key").chmod(0o600)


def _ports(count: int) -> list[int]:
    found = [socket.create_server(("127.0.0.1", 0)) for _ in range(count)]
    numbers = [item.getsockname()[1] for item in found]
    for item in found:
        item.close()
    return numbers


@pytest.fixture(scope="module")
def servers() -> Iterator[Settings]:
    """Settings by which the two servers are reached under HOST."""
    folder = Path(subprocess.check_output(["mktemp", "-d", f"{PLACE_OF_MAIL}/acorn-XXXXXX"], text=True).strip())
    folder.chmod(0o755)
    _certificate(folder)
    (folder / "users").write_text(f"{USER}:{{PLAIN}}{SECRET}\n")
    (folder / "mail").mkdir(mode=0o777)
    (folder / "mail").chmod(0o777)
    names = ("submission", "imap", "lmtp", "relay", "submission_plain", "imap_plain")
    ports = dict(zip(names, _ports(len(names)), strict=True))
    tokens = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Tokens)
    threading.Thread(target=tokens.serve_forever, daemon=True).start()
    values = {"folder": folder, "user": USER, "tokens": tokens.server_port, **ports}
    (folder / "dovecot.conf").write_text(DOVECOT.format(**values))
    (folder / "oauth2.conf").write_text(OAUTH2.format(**values))
    (folder / "smtpd.conf").write_text(SMTPD.format(**values))
    log = (folder / "smtpd.log").open("wb")
    running = [
        subprocess.Popen(["dovecot", "-F", "-c", str(folder / "dovecot.conf")], stderr=subprocess.DEVNULL),
        subprocess.Popen(["smtpd", "-d", "-f", str(folder / "smtpd.conf")], stdout=log, stderr=log),
    ]
    try:
        for port in ports.values():
            _wait_for(port)
        world = World(
            http_port=1, https_port=1, dns_port=1, source_ports={}, ca_file=str(folder / "ca.pem"),
            mail_ports=ports,
        )  # fmt: skip
        yield Settings(world=world)
    finally:
        for process in running:
            process.terminate()
            process.wait(10)
        tokens.shutdown()
        tokens.server_close()
        log.close()
        shutil.rmtree(folder, ignore_errors=True)


class Tokens(http.server.BaseHTTPRequestHandler):
    """Who has signed in elsewhere: what a provider's token service answers (RFC 7662 in spirit, as Dovecot asks it)."""

    def do_GET(self) -> None:
        right = self.path.endswith(f"access_token={TOKEN}")
        body = json.dumps({"email": USER, "active": True} if right else {"error": "invalid_token"}).encode()
        self.send_response(200 if right else 401)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, format: str, *args: object) -> None:
        pass


def by_starttls(servers: Settings) -> Settings:
    """The same servers, by their ports that begin without encryption."""
    assert servers.world is not None
    ports = servers.world.mail_ports
    plain = {"submission": ports["submission_plain"], "imap": ports["imap_plain"]}
    return servers.model_copy(update={"world": servers.world.model_copy(update={"mail_ports": plain})})


def _wait_for(port: int) -> None:
    until = time.monotonic() + 20
    while time.monotonic() < until:
        try:
            socket.create_connection(("127.0.0.1", port), 1).close()
            return
        except OSError:
            time.sleep(0.1)
    raise AssertionError(f"nobody listens at {port}")


def _send(settings: Settings, to: str, number: int, subject: str = "Hello") -> Submitted:
    server = connect_submission(settings, HOST, 465, "tls", "password", USER, SECRET)
    at = dt.datetime(2026, 11, 27, 9, tzinfo=dt.UTC)
    body = compose(
        Envelope(USER, "Ada Wren", to, "", f"<{number}@wrenfold.example>", at),
        subject,
        "Grüße, hello.\n.\n.a dot alone",
    )
    try:
        return submit(server, USER, to, body, lambda: True)
    finally:
        server.quit()


def _read(settings: Settings, after: int = 0, since: dt.date | None = None) -> list[tuple[int, bytes]]:
    server = connect_imap(settings, HOST, 993, "tls", "password", USER, SECRET)
    try:
        look_in(server)
        return list(read_after(server, after, since))
    finally:
        server.logout()


def test_what_real_servers_take_is_read_back_as_it_was_sent(servers: Settings) -> None:
    """Through TLS, authentication, queue, LMTP and maildir: subject, text with lone dots, order and numbers."""
    for number in (1, 2, 3):  # each once the one before is there: a busy server carries them in any order
        assert _send(servers, USER, number, f"Grüße {number}").acceptance is Acceptance.ACCEPTED
        until = time.monotonic() + 60
        while len(found := _read(servers)) < number:
            assert time.monotonic() < until
            time.sleep(0.2)
    read = [read_incoming(raw) for _, raw in found]
    assert [item.message_id for item in read] == [f"<{number}@wrenfold.example>" for number in (1, 2, 3)]
    assert [item.subject for item in read] == [f"Grüße {number}" for number in (1, 2, 3)]
    assert {item.kind for item in read} == {IncomingKind.REPLY}
    assert read[0].text.splitlines() == ["Grüße, hello.", ".", ".a dot alone"]
    uids = [uid for uid, _ in found]
    assert [uid for uid, _ in _read(servers, uids[0])] == uids[1:]
    assert _read(servers, uids[-1]) == [], "the last message is named by any range, and is not read twice"
    assert [uid for uid, _ in _read(servers, 0, dt.date.today() - dt.timedelta(1))] == uids
    assert _read(servers, 0, dt.date.today() + dt.timedelta(2)) == []


def test_reading_leaves_everything_unseen(servers: Settings) -> None:
    server = connect_imap(servers, HOST, 993, "tls", "password", USER, SECRET)
    look_in(server)
    list(read_after(server, 0))
    _, flags = server.uid("FETCH", "1:*", "(FLAGS)")
    server.logout()
    assert all(b"\\Seen" not in bytes(line) for line in flags if isinstance(line, bytes))


def test_a_mailbox_that_is_not_there_is_refused_before_anything_leaves(servers: Settings) -> None:
    found = _send(servers, "nobody@wrenfold.example", 9)
    assert found.acceptance is Acceptance.REFUSED
    assert found.said.startswith("524 5.2.4"), "as this server says it; it is no word about the mailbox itself"
    assert not nobody_there(found.said)


def test_wrong_passwords_and_names_of_hosts_are_told_apart(servers: Settings) -> None:
    with pytest.raises(MailServerError) as wrong:
        connect_submission(servers, HOST, 465, "tls", "password", USER, "another")
    assert wrong.value.sign_in
    with pytest.raises(MailServerError) as refused:
        connect_imap(servers, HOST, 993, "tls", "password", USER, "another")
    assert refused.value.sign_in
    with pytest.raises(MailServerError, match="certificate"):
        connect_submission(servers, "other.example", 465, "tls", "password", USER, SECRET)


@pytest.mark.parametrize("security", ["tls", "starttls"])
@pytest.mark.parametrize(
    ("sign_in", "secret", "wrong"), [("password", SECRET, "another"), ("token", TOKEN, "ya29.another")]
)
def test_each_way_of_securing_and_of_signing_in(
    servers: Settings, security: str, sign_in: str, secret: str, wrong: str
) -> None:
    """STARTTLS (RFC 3207, RFC 3501 6.2.1) and XOAUTH2 against servers that nobody here wrote; a wrong secret is told from a fault."""
    settings = by_starttls(servers) if security == "starttls" else servers
    sending = connect_submission(settings, HOST, 587, security, sign_in, USER, secret)
    assert sending.noop()[0] == 250
    assert isinstance(sending.sock, ssl.SSLSocket)
    sending.quit()
    reading = connect_imap(settings, HOST, 143, security, sign_in, USER, secret)
    assert isinstance(reading.sock, ssl.SSLSocket)
    look_in(reading)
    reading.logout()
    for connect, port in ((connect_submission, 587), (connect_imap, 143)):
        with pytest.raises(MailServerError) as refused:
            connect(settings, HOST, port, security, sign_in, USER, wrong)
        assert refused.value.sign_in


def test_a_server_of_another_name_gets_no_password_after_starttls(servers: Settings) -> None:
    with pytest.raises(MailServerError, match="certificate"):
        connect_imap(by_starttls(servers), "other.example", 143, "starttls", "password", USER, SECRET)
    with pytest.raises(MailServerError, match="certificate"):
        connect_submission(by_starttls(servers), "other.example", 587, "starttls", "password", USER, SECRET)

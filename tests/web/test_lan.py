"""Serving to the network: a certificate of its own, cookies over https alone, strangers' host names refused."""

import socket
import ssl
import stat
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from cryptography import x509

from chirotend.cli import LOOPBACK, lan_server
from chirotend.services.server.certificate import certificate_for, own_address
from chirotend.web import create_app
from chirotend.web.network import CONNECTIONS_OF_ONE, NetworkServer

NOW = datetime(2026, 11, 12, 9, 10, tzinfo=UTC)


def test_a_certificate_is_kept_until_the_address_or_its_time_changes(tmp_path: Path):
    first = certificate_for(tmp_path, ["192.0.2.7"], NOW)
    assert certificate_for(tmp_path, ["192.0.2.7"], NOW) == first
    moved = certificate_for(tmp_path, ["192.0.2.8"], NOW)
    assert moved.fingerprint != first.fingerprint
    assert certificate_for(tmp_path, ["192.0.2.8"], NOW + timedelta(days=380)).fingerprint != moved.fingerprint
    assert stat.S_IMODE(moved.key.stat().st_mode) == 0o600
    assert len(moved.fingerprint.split(":")) == 32


def test_the_own_address_is_an_address():
    assert len(own_address().split(".")) == 4


@pytest.fixture
def served(tmp_path: Path) -> Iterator[tuple[str, ssl.SSLContext, NetworkServer]]:
    app = create_app(tmp_path / "data", trusted_hosts=[LOOPBACK], secure=True)
    server, certificate = lan_server(app, tmp_path / "data", LOOPBACK, 0)
    server.prepare()
    thread = threading.Thread(target=server.serve, daemon=True)
    thread.start()
    trusted = ssl.create_default_context(cafile=str(certificate.certificate))
    yield f"https://{LOOPBACK}:{server.bind_addr[1]}", trusted, server
    server.stop()
    thread.join(20)
    app.extensions["database"].engine.dispose()


def test_a_tablet_reaches_it_over_https_and_nobody_else_by_another_name(served):
    url, trusted, _ = served
    with urllib.request.urlopen(f"{url}/sign-in", context=trusted, timeout=20) as answer:
        assert answer.status == 200
        assert "Secure" in answer.headers["Set-Cookie"]
    with pytest.raises(urllib.error.URLError, match="CERTIFICATE_VERIFY_FAILED"):
        urllib.request.urlopen(f"{url}/sign-in", timeout=20)
    other = urllib.request.Request(f"{url}/sign-in", headers={"Host": "elsewhere.example"})
    with pytest.raises(urllib.error.HTTPError, match="400"):
        urllib.request.urlopen(other, context=trusted, timeout=20)


def answers(url: str, trusted: ssl.SSLContext) -> float:
    """Seconds until the health page is answered."""
    began = time.monotonic()
    with urllib.request.urlopen(f"{url}/health", context=trusted, timeout=20) as answer:
        assert answer.status == 200
    return time.monotonic() - began


def test_callers_who_never_shake_hands_keep_nobody_waiting(served):
    url, trusted, server = served
    silent = [socket.create_connection(server.bind_addr) for _ in range(4)]
    try:
        assert answers(url, trusted) < 3
    finally:
        for each in silent:
            each.close()


def test_one_address_holds_a_few_connections_and_no_more(served):
    url, trusted, server = served
    held = [socket.create_connection(server.bind_addr) for _ in range(CONNECTIONS_OF_ONE + 6)]
    time.sleep(1)
    closed = 0
    for each in held:
        each.settimeout(0.2)
        try:
            closed += each.recv(1) == b""
        except (TimeoutError, ConnectionError) as error:
            closed += isinstance(error, ConnectionError)
    assert closed >= 6
    for each in held:
        each.close()
    time.sleep(0.5)
    assert answers(url, trusted) < 3


def test_a_sender_slower_than_a_crawl_is_cut(served, monkeypatch):
    monkeypatch.setattr("chirotend.web.network.ARRIVES_WITHIN_S", 1.0)
    url, trusted, server = served
    slow = trusted.wrap_socket(socket.create_connection(server.bind_addr), server_hostname=LOOPBACK)
    slow.settimeout(1)
    began = time.monotonic()
    slow.sendall(b"POST /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 100000\r\n\r\n")
    with pytest.raises((OSError, ssl.SSLError)):
        while time.monotonic() - began < 15:
            slow.sendall(b"a")
            time.sleep(0.3)
        pytest.fail("nobody cut it")
    assert answers(url, trusted) < 3


def test_the_certificate_speaks_for_this_server_and_for_no_other(tmp_path: Path):
    made = x509.load_pem_x509_certificate(certificate_for(tmp_path, ["192.0.2.7"], NOW).certificate.read_bytes())
    assert made.extensions.get_extension_for_class(x509.BasicConstraints).value.ca is False

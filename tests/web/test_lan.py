"""Serving to the network: a certificate of its own, cookies over https alone, strangers' host names refused."""

import ssl
import stat
import threading
import urllib.error
import urllib.request
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from chirotend.cli import LOOPBACK, lan_server
from chirotend.services.certificate import certificate_for, own_address
from chirotend.web import create_app

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


def test_a_tablet_reaches_it_over_https_and_nobody_else_by_another_name(tmp_path: Path):
    app = create_app(tmp_path / "data", trusted_hosts=[LOOPBACK], secure=True)
    server, certificate = lan_server(app, tmp_path / "data", LOOPBACK, 0)
    server.prepare()
    thread = threading.Thread(target=server.serve, daemon=True)
    thread.start()
    trusted = ssl.create_default_context(cafile=str(certificate.certificate))
    url = f"https://{LOOPBACK}:{server.bind_addr[1]}"
    try:
        with urllib.request.urlopen(f"{url}/sign-in", context=trusted, timeout=20) as answer:
            assert answer.status == 200
            assert "Secure" in answer.headers["Set-Cookie"]
        with pytest.raises(urllib.error.URLError, match="CERTIFICATE_VERIFY_FAILED"):
            urllib.request.urlopen(f"{url}/sign-in", timeout=20)
        other = urllib.request.Request(f"{url}/sign-in", headers={"Host": "elsewhere.example"})
        with pytest.raises(urllib.error.HTTPError, match="400"):
            urllib.request.urlopen(other, context=trusted, timeout=20)
    finally:
        server.stop()
        thread.join(20)
        app.extensions["database"].engine.dispose()

"""Serving to a network over https, so that no single caller can keep the others out.

The handshake is done by whichever thread reads, never by the one that accepts; whoever sends slower than a crawl is
cut; one address holds only a few connections at a time.
"""

import socket
import ssl
import threading
import time
from collections import defaultdict
from typing import Any
from weakref import WeakSet

from cheroot.server import HTTPConnection
from cheroot.ssl.builtin import BuiltinSSLAdapter
from cheroot.wsgi import Server as WSGIServer
from flask import Flask

THREADS, CONNECTIONS_OF_ONE = 16, 6
#: a request has this long to arrive, and longer only while it moves at least this fast
ARRIVES_WITHIN_S, LEAST_BYTES_A_S = 20.0, 10_000
QUIET_S = 10  # without any byte, a connection is let go


class Clocked(ssl.SSLSocket):
    """A connection whose sender is on a clock: it starts with the first read and with each answer written."""

    began: float | None = None
    received = 0

    def recv_into(self, *args: Any, **kwargs: Any) -> int:
        now = time.monotonic()
        if self.began is None:
            self.began = now
        if now - self.began > ARRIVES_WITHIN_S + self.received / LEAST_BYTES_A_S:
            raise TimeoutError("The read operation timed out")
        count = super().recv_into(*args, **kwargs)
        self.received += count
        return count

    def sendall(self, *args: Any, **kwargs: Any) -> None:
        self.began, self.received = None, 0
        super().sendall(*args, **kwargs)

    def send(self, *args: Any, **kwargs: Any) -> int:
        self.began, self.received = None, 0
        return super().send(*args, **kwargs)


class HandshakeLater(BuiltinSSLAdapter):
    """TLS whose handshake happens at the first read."""

    def __init__(self, certificate: str, key: str) -> None:
        super().__init__(certificate, key)
        self.context.sslsocket_class = Clocked
        self.context.minimum_version = ssl.TLSVersion.TLSv1_2

    def wrap(self, sock: socket.socket) -> tuple[ssl.SSLSocket, dict[str, str]]:
        wrapped = self.context.wrap_socket(sock, do_handshake_on_connect=False, server_side=True)
        return wrapped, {"wsgi.url_scheme": "https", "HTTPS": "on"}


class NetworkServer(WSGIServer):
    """An https server that holds a few connections of each address at a time, and lets go of more."""

    def __init__(self, address: tuple[str, int], app: Flask, certificate: str, key: str, body_max: int) -> None:
        super().__init__(address, app, numthreads=THREADS, timeout=QUIET_S, request_queue_size=64)
        self.max_request_body_size, self.max_request_header_size = body_max, 64 * 1024
        self.ssl_adapter = HandshakeLater(certificate, key)
        self._held: defaultdict[str, WeakSet[HTTPConnection]] = defaultdict(WeakSet)
        self._counting = threading.Lock()

    def process_conn(self, conn: HTTPConnection) -> None:
        if self._is_one_too_many(conn):
            conn.close()
            return
        super().process_conn(conn)

    def _is_one_too_many(self, conn: HTTPConnection) -> bool:
        with self._counting:
            held = self._held[conn.remote_addr]
            for old in list(held):
                if old.socket is None or old.socket.fileno() == -1:
                    held.discard(old)
            if conn not in held and len(held) >= CONNECTIONS_OF_ONE:
                return True
            held.add(conn)
            return False

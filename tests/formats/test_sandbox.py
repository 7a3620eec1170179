"""Files are read in processes with limits: of CPU time, not of the clock; of memory; few at once, few more in line."""

import socket
import socketserver
import threading
import time

import pytest

from chirotend.formats import sandbox, sandbox_server
from chirotend.formats.cells import UnreadableFile

GREEDY = "tests.formats.greedy"


def read(seconds: int = 1, **asks: object) -> dict[str, object]:
    return sandbox.read_file(GREEDY, "It", asks, b"x" * 70_000, seconds)


def test_what_is_read_comes_back_and_what_is_refused_is_said():
    assert read() == {"length": 70_000, "held": 0, "ratio": 1}
    with pytest.raises(UnreadableFile, match="no notes"):
        read(refuses="It holds no notes.")


@pytest.mark.parametrize("asks", [{"works_s": 30}, {"holds_bytes": 3 * 1024**3}])
def test_what_asks_for_more_than_it_may_is_stopped_and_the_next_one_is_read(asks):
    with pytest.raises(UnreadableFile, match="It asks for more work than this server gives one file"):
        read(**asks)
    assert read()["length"] == 70_000


def test_time_on_the_clock_is_no_work():
    assert read(waits_s=2.5)["length"] == 70_000


def test_a_fault_of_the_reader_is_no_fault_of_the_file():
    with pytest.raises(RuntimeError, match="ZeroDivisionError"):
        read(divides_by=0)


def test_who_finds_the_line_full_is_told_at_once_and_who_can_wait_waits():
    lined = [threading.Thread(target=read, kwargs={"waits_s": 1.5}) for _ in range(sandbox.IN_LINE)]
    for each in lined:
        each.start()
    while sandbox._line._value:  # until all of them stand in it
        time.sleep(0.01)
    began = time.monotonic()
    with pytest.raises(UnreadableFile, match="Bring It again in a minute"):
        read()
    assert time.monotonic() - began < 1
    assert sandbox.read_file(GREEDY, "It", {}, step=lambda share: None)["length"] == 0
    for each in lined:
        each.join()


def test_who_is_told_how_far_it_is_can_stop_it():
    shares: list[float] = []

    def stop_soon(share: float) -> None:
        shares.append(share)
        if len(shares) == 3:
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        sandbox.read_file(GREEDY, "It", {"works_s": 20}, seconds=30, step=stop_soon)
    assert shares == sorted(shares) and read()["length"] == 70_000


def test_whoever_finds_the_socket_is_not_refused(tmp_path, monkeypatch):
    """It once stood there a moment before anybody listened: the first file after a start could be refused."""
    there, found = tmp_path / "readers", []

    def slowly(server):
        found.append(there.exists())
        socketserver.UnixStreamServer.server_activate(server)
        found.append(there.exists())

    monkeypatch.setattr(socketserver.ForkingMixIn, "server_activate", slowly, raising=False)
    with sandbox_server._Waiting(f"{there}.part", sandbox_server._Reading) as waiting:
        assert found == [False, False] and there.exists() and waiting.server_address == str(there)
        with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as line:
            line.connect(str(there))


def test_a_process_that_died_is_started_again():
    read()
    assert sandbox._server.process is not None
    sandbox._server.process.kill()
    sandbox._server.process.wait()
    assert read()["length"] == 70_000

"""The setting that keeps a server's memory steady is understood by the C library it runs on."""

import platform
import subprocess
import sys

import pytest

#: eight threads that hold memory at one time; glibc tells how many heaps they have
HELD = """
import ctypes, sys, threading
from chirotend.services.server.arenas import share_arenas
assert share_arenas(2)
met = threading.Barrier(8)
def holds():
    kept = [bytes(70_000) for _ in range(50)]
    met.wait()
threads = [threading.Thread(target=holds) for _ in range(8)]
[t.start() for t in threads]
[t.join() for t in threads]
libc = ctypes.CDLL(None)
libc.malloc_info(0, ctypes.c_void_p.in_dll(libc, "stdout"))
libc.fflush(None)
"""


@pytest.mark.skipif(platform.libc_ver()[0] != "glibc", reason="it is glibc that keeps heaps for threads")
def test_eight_threads_share_two_heaps():
    told = subprocess.run([sys.executable, "-c", HELD], capture_output=True, text=True, timeout=60, check=True).stdout
    assert 1 <= told.count("<heap nr=") <= 2, told

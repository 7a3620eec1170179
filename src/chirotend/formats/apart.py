"""Reading in a process of its own, that can be stopped: what others wrote may ask for any amount of work or memory.

A module that reads so is run as `python -m MODULE`: it limits itself, takes a request from its input and answers with
JSON on its output.
"""

import json
import resource
import subprocess
import sys
from typing import Any

MEMORY_BYTES = 1024**3


class TooMuch(RuntimeError):
    """The process took more memory than it may have, or was ended in its work."""


class TooSlow(RuntimeError):
    """The process took longer than it may."""


def asked(module: str, request: bytes, seconds: float) -> dict[str, Any]:
    """Return what `module` answers to `request`; `TooSlow` after `seconds`, `TooMuch` when it ends without one."""
    try:
        done = subprocess.run([sys.executable, "-m", module], input=request, capture_output=True, timeout=seconds)
    except subprocess.TimeoutExpired as error:
        raise TooSlow from error
    if done.returncode:
        raise TooMuch
    answer: dict[str, Any] = json.loads(done.stdout)
    return answer


def request() -> bytes:
    """Limit the memory of this process, and return what it is asked."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    return sys.stdin.buffer.read()


def answer(found: dict[str, Any]) -> None:
    """Answer whoever asked."""
    sys.stdout.write(json.dumps(found))

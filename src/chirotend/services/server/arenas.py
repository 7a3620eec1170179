"""The heaps that glibc keeps for threads: few of them keep a server's memory steady."""

import ctypes

#: the number of `M_ARENA_MAX` in glibc's malloc.h
ARENA_MAX = -8


def share_arenas(most: int) -> bool:
    """Limit all threads to `most` heaps; return False where the C library has no such setting. Call it before threads
    start.

    With a heap for each thread, memory freed by one is not used by the next: a server under files grew by 20 kB a
    request.
    """
    mallopt = getattr(ctypes.CDLL(None), "mallopt", None)
    return mallopt is not None and mallopt(ARENA_MAX, most) == 1

"""How the C library hands out memory to threads, where it is one that keeps a heap for each of them (glibc)."""

import ctypes

#: the number of `M_ARENA_MAX` in glibc's malloc.h
ARENA_MAX = -8


def share_arenas(most: int) -> bool:
    """Let all threads share so many heaps; returns False where the C library has no such setting.

    With a heap for each thread, what one of them freed of a large file is not given to the next: a server under files
    grew by 20 kB a request. Called before the threads begin.
    """
    mallopt = getattr(ctypes.CDLL(None), "mallopt", None)
    return mallopt is not None and mallopt(ARENA_MAX, most) == 1

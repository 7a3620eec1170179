"""What is kept in memory of somebody's diary: everything of it is forgotten at one place when a record is deleted."""

from collections.abc import Callable, Hashable
from functools import lru_cache
from typing import Generic, TypeVar
from weakref import WeakSet

T = TypeVar("T")


class Memo:
    """Something that keeps words or numbers of a diary in memory, and can let go of all of it."""

    def __init__(self) -> None:
        _ALL.add(self)

    def forget(self) -> None:
        raise NotImplementedError


_ALL: WeakSet[Memo] = WeakSet()


class ByValue(Memo, Generic[T]):
    """Answers of a function of hashable values, the `most` asked for last."""

    def __init__(self, answer: Callable[..., T], most: int) -> None:
        super().__init__()
        self._kept = lru_cache(maxsize=most)(answer)
        self.__doc__ = answer.__doc__

    def __call__(self, *values: Hashable) -> T:
        return self._kept(*values)

    def forget(self) -> None:
        self._kept.cache_clear()


def by_value(most: int) -> Callable[[Callable[..., T]], ByValue[T]]:
    """Keep the `most` last answers of a function whose values are a player's."""
    return lambda answer: ByValue(answer, most)


def forget_diaries() -> None:
    """Keep nothing of any diary, of whichever player: what is still there is read again."""
    for memo in list(_ALL):
        memo.forget()

"""Early signs: places that are lastingly above her own usual. `signs` is what the call asks."""

from chirotend.core.judge.signs.raised import Sign, signs

__all__ = ["Sign", "signs"]

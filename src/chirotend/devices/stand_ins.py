"""The devices that `chirotend device` plugs in, by name: what each shows from the moment somebody listens."""

from collections.abc import Callable, Iterator

from chirotend.core.measure.readings import Reading
from chirotend.devices.muscle import muscle, press, readings, struck

MINUTES = 10


def _pad() -> Iterator[Reading]:
    """A press that rises and falls every two seconds."""
    return readings("pad", "N", press([0.5, 4.0, 0.5, 7.0] * (MINUTES * 60 // 8), 2.0))


def _band() -> Iterator[Reading]:
    """A forearm that works for eleven seconds and lets go for one."""
    bursts = [(12.0 * n, 12.0 * n + 11.0) for n in range(MINUTES * 5)]
    return readings("forearm", "mV", muscle(bursts, MINUTES * 60.0, strength=0.2))


def _scale() -> Iterator[Reading]:
    """Strokes, four a second, some stronger than others."""
    peaks = [20.0, 26.0, 22.0, 31.0] * (MINUTES * 60)
    return readings("scale", "N", struck(peaks), 2000.0)


SHOWN: dict[str, Callable[[], Iterator[Reading]]] = {"pad": _pad, "band": _band, "scale": _scale}

"""Invented parts as MusicXML, for tests: bars of notes with what can stand in them."""

import io
import zipfile

HEAD = '<?xml version="1.0" encoding="UTF-8"?>\n<score-partwise version="4.0">'
NOTE = "<note>{}<duration>{}</duration>{}</note>"


def pitch(step: str = "C", octave: int = 3) -> str:
    return f"<pitch><step>{step}</step><octave>{octave}</octave></pitch>"


def bar(number: int, inside: str, first: str = "") -> str:
    return f'<measure number="{number}">{first}{inside}</measure>'


def score(*parts: tuple[str, list[str]], title: str = "Night music") -> bytes:
    names = "".join(
        f'<score-part id="P{n}"><part-name>{name}</part-name></score-part>' for n, (name, _) in enumerate(parts)
    )
    bodies = "".join(f'<part id="P{n}">{"".join(bars)}</part>' for n, (_, bars) in enumerate(parts))
    titled = f"<work><work-title>{title}</work-title></work>"
    return f"{HEAD}{titled}<part-list>{names}</part-list>{bodies}</score-partwise>".encode()


FIRST = (
    "<attributes><divisions>4</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>"
    '<direction><sound tempo="96"/></direction>'
)


def simple(bars: int = 8, fast: range = range(4, 6), name: str = "Bassoon") -> tuple[str, list[str]]:
    """A part of half notes, with sixteenths in the bars of `fast`."""
    found = []
    for n in range(bars):
        notes = NOTE.format(pitch("GA"[n % 2]), 1, "") * 16 if n in fast else NOTE.format(pitch(), 8, "") * 2
        found.append(bar(n + 1, notes, FIRST if n == 0 else ""))
    return name, found


def zipped(data: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("META-INF/container.xml", "<container/>")
        archive.writestr("score.musicxml", data)
    return out.getvalue()

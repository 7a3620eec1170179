"""A written part: MusicXML (plain or zipped) and MIDI read with partitura, as notes and bars of our own.

What asks for others' files or grows by itself (entities, a zip that unpacks to more than it may) is refused unread, and
so is what holds too many notes. Loaded by the process that reads files alone (`part_reader`).
"""

import io
import re
import tempfile
import warnings
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from typing import Any

import partitura
from partitura import score as s

from chirotend.core.late import late
from chirotend.core.load.part import BPM_MAX, BPM_MIN, WrittenBar, WrittenNote
from chirotend.formats import zips
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.part_reader import WrittenFile, WrittenPart

mido = late("mido")

#: bytes brought, and unpacked; staves, bars and notes that are read
FILE_MAX, UNPACKED_MAX = 8 * 1024 * 1024, 40 * 1024 * 1024
STAVES_MAX, BARS_MAX, NOTES_MAX = 20, 2000, 60_000
#: bars played, repeats with them
PLAYED_MAX = 8000
NO_TEMPO_BPM = 90.0
LOUD = frozenset({"f", "ff", "fff", "ffff", "sf", "sfz", "sffz", "fz", "fp", "sfp", "rf", "rfz"})
_PART = re.compile(rb"""<part\s+id=["']([^"']+)["'][^>]*>(.*?)</part>""", re.DOTALL)
_OCTAVES = re.compile(rb"<octave-change>\s*(-?[0-3])\s*</octave-change>")
_TITLE = re.compile(rb"<(?:work-title|movement-title)>([^<]{1,200})<")


def answered(request: dict[str, Any], data: bytes, _step: Callable[[float], None]) -> dict[str, Any]:
    """Return what `part_reader.read` asks for, as JSON holds it."""
    return asdict(read_parts(data, request["name"]))


def read_parts(data: bytes, name: str) -> WrittenFile:
    """Return the parts of a file; `UnreadableFile` says what is wrong and how to mend it."""
    if len(data) > FILE_MAX:
        raise UnreadableFile(f"{name} is larger than {FILE_MAX // 2**20} MB. Bring your own part alone, not the score.")
    if data[:4] == b"MThd":
        _check_few(_midi_notes(data, name), NOTES_MAX, "notes", name)
        return WrittenFile(Path(name).stem, _loaded(data, ".mid", name))
    text = _in_utf8(_unpacked(data, name) if data.startswith(zips.ZIP) else data, name)
    before_the_score = text.split(b"<score", 1)[0].replace(b'SYSTEM ""', b"")
    if b"<!ENTITY" in text or b"SYSTEM" in before_the_score:
        raise UnreadableFile(f"{name} names things outside itself and was not opened. Export it again as MusicXML.")
    if b"<score-partwise" not in text and b"<score-timewise" not in text:
        raise UnreadableFile(
            f"{name} is no MusicXML and no MIDI file. Export the part as MusicXML (.musicxml or .mxl)."
        )
    for tag, most, what in ((b"<note", NOTES_MAX, "notes"), (b"<score-part ", STAVES_MAX, "parts")):
        _check_few(text.count(tag), most, what, name)
    found = _TITLE.search(text)
    title = found[1].decode("utf-8", "replace").strip() if found else Path(name).stem
    return WrittenFile(title, _loaded(text, ".musicxml", name))


def _check_few(count: int, most: int, what: str, name: str) -> None:
    if count > most:
        raise UnreadableFile(f"{name} has more than {most} {what}. Bring your own part alone, not the score.")


def _midi_notes(data: bytes, name: str) -> int:
    """How many notes a MIDI file begins, counted before it is made into bars."""
    try:
        tracks = mido.MidiFile(file=io.BytesIO(data)).tracks
    except Exception as error:  # whatever a stranger's file does to the reader: it is the file that is refused
        raise UnreadableFile(f"{name} is a broken MIDI file. Export it again.") from error
    return sum(m.type == "note_on" and m.velocity > 0 for track in tracks for m in track)


def _in_utf8(text: bytes, name: str) -> bytes:
    """The text of a file with a mark of UTF-16 in UTF-8, so that what is looked for can be found in it."""
    if text[:2] not in (b"\xff\xfe", b"\xfe\xff"):
        return text.removeprefix(b"\xef\xbb\xbf")
    try:
        return re.sub(r"^<\?xml[^>]*\?>", "", text.decode("utf-16").lstrip()).encode()
    except UnicodeError as error:
        raise UnreadableFile(f"{name} is no text that can be read. Export it again.") from error


def _unpacked(data: bytes, name: str) -> bytes:
    """The first score in a zipped file."""
    with zips.opened(data, f"{name} is a damaged zip file. Export it again.") as archive:
        members = [i for i in archive.infolist() if not i.filename.startswith("META-INF")]
        scores = [i for i in members if i.filename.lower().endswith((".xml", ".musicxml"))]
        if not scores:
            raise UnreadableFile(f"{name} holds no part that can be read. Export it again.")
        with archive.open(scores[0]) as score:
            text = score.read(UNPACKED_MAX + 1)
    if len(text) > UNPACKED_MAX:
        raise UnreadableFile(f"{name} unpacks to more than {UNPACKED_MAX // 2**20} MB and was not opened.")
    return text


def _loaded(data: bytes, suffix: str, name: str) -> tuple[WrittenPart, ...]:
    """Read with partitura, which warns of whatever it passes over: nothing of that is an error of ours."""
    with tempfile.TemporaryDirectory() as folder, warnings.catch_warnings():
        warnings.simplefilter("ignore")
        path = Path(folder) / f"part{suffix}"
        path.write_bytes(data)
        try:
            load = partitura.load_score_midi if suffix == ".mid" else partitura.load_musicxml
            octaves = _octaves(data)
            found = load(str(path)).parts
            # a score has its tempo over the first part alone
            tempi = sorted({tempo for part in found for tempo in _tempi(part)})
            parts = tuple(_part(part, octaves.get(str(part.id), 0), tempi) for part in found)
        except UnreadableFile:
            raise
        except Exception as error:  # whatever a stranger's file does to the reader: it is the file that is refused
            raise UnreadableFile(f"{name} could not be read ({type(error).__name__}). Export it again.") from error
    if not any(p.notes for p in parts):
        raise UnreadableFile(f"{name} holds no notes.")
    return parts


def _octaves(text: bytes) -> dict[str, int]:
    """Return the octaves from what is written to what sounds, in semitones, by part: the reader leaves them out."""
    found = {}
    for part in _PART.finditer(text):
        change = _OCTAVES.search(part[2])
        if change is not None:
            found[part[1].decode("utf-8", "replace")] = 12 * int(change[1])
    return found


def _tempi(part: Any) -> list[tuple[float, float]]:
    """Each tempo of a part: from which place (quarters), quarters a minute."""
    marks = [t for t in part.iter_all(s.Tempo) if t.bpm]
    quarters = _quarters(part, [*part.measures, *marks], [])
    return [(quarters[t.start.t], float(t.bpm)) for t in marks]


def _part(part: Any, octaves: int, tempi: list[tuple[float, float]]) -> WrittenPart:
    measures = sorted((m for m in part.measures if m.end is not None and m.end.t > m.start.t), key=lambda m: m.start.t)
    if len(measures) > BARS_MAX:
        raise UnreadableFile(f"The part has more than {BARS_MAX} bars. Bring it in two files.")
    dynamics = [*part.iter_all(s.ConstantLoudnessDirection)]
    written = [n for n in part.iter_all(s.GenericNote, include_subclasses=True) if not isinstance(n, s.Rest)]
    struck = [n for n in written if n.tie_prev is None]
    quarters = _quarters(
        part, [*measures, *dynamics, *struck], [m.end.t for m in measures] + [n.end_tied.t for n in struck]
    )
    at_first = tempi[0][1] if tempi else NO_TEMPO_BPM
    loud_from = sorted((quarters[d.start.t], str(d.text).strip().lower() in LOUD) for d in dynamics)
    # the first one holds for the part: a change of instrument within it is not followed
    transposes = next((int(t.chromatic or 0) for t in part.iter_all(s.Transposition)), 0) + octaves
    notes = [
        WrittenNote(
            quarters[n.start.t],
            0.0 if isinstance(n, s.GraceNote) else quarters[n.end_tied.t] - quarters[n.start.t],
            None if isinstance(n, s.UnpitchedNote) else min(127, max(0, int(n.midi_pitch) + transposes)),
            _last(loud_from, quarters[n.start.t], False),
            min(STAVES_MAX, max(1, int(n.staff or 1))),
        )
        for n in struck
    ]
    bars = [
        WrittenBar(
            int(m.number or at),
            quarters[m.start.t],
            quarters[m.end.t],
            min(BPM_MAX, max(BPM_MIN, _last(tempi, quarters[m.start.t], at_first))),
        )
        for at, m in enumerate(measures, start=1)
    ]
    played = _played(part, measures)
    return WrittenPart(
        str(part.part_name or part.id or "part")[:80],
        tuple(sorted(notes, key=lambda n: n.onset)),
        tuple(bars),
        bool(tempi),
        transposes,
        played or (),
        played is not None,
        sum(1 for _ in part.iter_all(s.Rest)),
        len(written) - len(struck),
        sum(1 for _ in part.iter_all(s.Repeat)),
    )


def _played(part: Any, measures: list[Any]) -> tuple[int, ...] | None:
    """Return the bars in the order they are played, every repeat taken, also after a da capo: () when that is straight
    through, None when the signs make no sense."""
    if not any(True for kind in (s.Repeat, s.Ending, s.DaCapo, s.DalSegno, s.ToCoda) for _ in part.iter_all(kind)):
        return ()
    try:
        way = s.get_paths(part, all_repeats=True)[0]
        parts = [(way.segments[name].start.t, way.segments[name].end.t) for name in way.path]
    except Exception:  # an ending without a number, a segno without its sign: played once through, and said so
        return None
    found = tuple(n for begins, ends in parts for n, m in enumerate(measures) if begins <= m.start.t < ends)
    return found if set(found) == set(range(len(measures))) and len(found) <= PLAYED_MAX else None


def _quarters(part: Any, things: list[Any], ends: list[int]) -> dict[int, float]:
    """Return the place in quarters of every beginning and end, from the first bar on: a pickup lies before the first
    full one. Asked all at once: the reader makes its map anew each time."""
    places = sorted({*(thing.start.t for thing in things), *ends})
    found = [float(q) for q in part.quarter_map(places)] if places else []
    first = min((thing.start.t for thing in things), default=0)
    begins = dict(zip(places, found, strict=True)).get(first, 0.0)
    return {place: q - begins for place, q in zip(places, found, strict=True)}


def _last(changes: list[tuple[float, Any]], at: float, otherwise: Any) -> Any:
    """What holds at a place: the last change up to it."""
    found = otherwise
    for where, value in changes:
        if where > at + 1e-9:
            break
        found = value
    return found

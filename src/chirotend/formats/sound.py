"""Recordings read block by block, mixed into one channel: WAV, FLAC, Ogg, MP3, and what browsers record (WebM, MP4).

Samples from −1 to 1. What a file is, is told from how it begins, never from its name.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from chirotend.core.late import late
from chirotend.formats.cells import UnreadableFile

av = late("av")
soundfile = late("soundfile")

BLOCK_S = 20.0
RATES_HZ, CHANNELS_MAX = (8_000, 192_000), 8
LONGEST_S = 4 * 3600.0
#: how a recording begins, and where, by its kind
BEGINNINGS = (
    ("audio/midi", b"RMID", 8),
    ("audio/wav", b"RIFF", 0),
    ("audio/flac", b"fLaC", 0),
    ("audio/ogg", b"OggS", 0),
    ("audio/mpeg", b"ID3", 0),
    ("audio/webm", b"\x1aE\xdf\xa3", 0),
    ("audio/mp4", b"ftyp", 4),
    ("audio/midi", b"MThd", 0),
)
#: read by soundfile; the others by av
PLAIN = ("audio/wav", "audio/flac", "audio/ogg", "audio/mpeg")
#: times full scale (60 dB): a file with samples beyond it is damaged; one recorded in floats may pass 1 a little
LARGEST_SAMPLE = 1000.0


def kind_of(head: bytes) -> str:
    """Return the kind of a recording by its first bytes; `UnreadableFile` with what can be read instead."""
    for media, mark, at in BEGINNINGS:
        if head[at : at + len(mark)] == mark:
            return media
    if len(head) > 1 and head[0] == 0xFF and head[1] & 0xE0 == 0xE0:  # a bare frame of MP3
        return "audio/mpeg"
    if not head:
        raise UnreadableFile("This file is empty.")
    raise UnreadableFile("This is no recording that can be read here: WAV, FLAC, Ogg, MP3, WebM, MP4 sound, or MIDI.")


@dataclass(frozen=True)
class Sound:
    """What a recording is: samples a second, seconds (0 = the file does not say), channels."""

    rate_hz: int
    seconds: float
    channels: int


def described(path: Path, media: str) -> Sound:
    """Return what a recording is; `UnreadableFile` when it is broken, too long, or none that can be heard."""
    found = _plain(path) if media in PLAIN else _packed(path)
    if not RATES_HZ[0] <= found.rate_hz <= RATES_HZ[1]:
        raise UnreadableFile(f"{found.rate_hz} samples a second cannot be read here: 8,000 to 192,000.")
    if not 1 <= found.channels <= CHANNELS_MAX:
        raise UnreadableFile(f"{found.channels} channels cannot be read here: up to {CHANNELS_MAX}, mixed into one.")
    if found.seconds > LONGEST_S:
        raise UnreadableFile("A recording lasts up to 4 hours. Cut it into parts.")
    return found


def breaks_off(path: Path, media: str) -> bool:
    """Return whether a WAV is shorter than it says: it was cut off on its way, and is heard up to there."""
    if media != "audio/wav":
        return False
    with path.open("rb") as file:
        head = file.read(8)
    return len(head) == 8 and int.from_bytes(head[4:], "little") + 8 > path.stat().st_size + 1


def _plain(path: Path) -> Sound:
    try:
        info = soundfile.info(str(path))
    except soundfile.LibsndfileError as error:
        why = str(error).rpartition(": ")[2]
        raise UnreadableFile(f"This recording is broken ({why}). Record or copy it again.") from error
    return Sound(info.samplerate, info.frames / info.samplerate, info.channels)


def _packed(path: Path) -> Sound:
    try:
        with av.open(str(path)) as box:
            if not box.streams.audio:
                raise UnreadableFile("This file holds no sound.")
            stream = box.streams.audio[0]
            length = float(box.duration / av.time_base) if box.duration else 0.0
            return Sound(stream.rate, length, stream.channels)
    except av.FFmpegError as error:
        raise UnreadableFile("This recording is broken. Record or copy it again.") from error


def blocks(path: Path, media: str, rate_hz: int) -> Iterator[np.ndarray]:
    """Yield a recording as mono blocks of up to 20 s (float32), from its beginning to where it breaks off.

    `UnreadableFile` where it is broken, or holds samples that no sound has.
    """
    for block in _plain_blocks(path, rate_hz) if media in PLAIN else _packed_blocks(path, rate_hz):
        if len(block) and np.abs(block).max() > LARGEST_SAMPLE:
            raise UnreadableFile("This recording is damaged: it is louder than any sound. Record or copy it again.")
        yield block


def _plain_blocks(path: Path, rate_hz: int) -> Iterator[np.ndarray]:
    try:
        with soundfile.SoundFile(str(path)) as file:
            for block in file.blocks(round(BLOCK_S * rate_hz), dtype="float32", always_2d=True):
                yield np.nan_to_num(block.mean(axis=1))
    except soundfile.LibsndfileError as error:
        raise UnreadableFile("This recording breaks off in the middle of a sample. Record or copy it again.") from error


def _packed_blocks(path: Path, rate_hz: int) -> Iterator[np.ndarray]:
    even = av.AudioResampler(format="flt", layout="mono", rate=rate_hz)
    waiting: list[np.ndarray] = []
    held, full = 0, round(BLOCK_S * rate_hz)
    try:
        with av.open(str(path)) as box:
            for frame in box.decode(audio=0):
                for part in even.resample(frame):
                    samples = part.to_ndarray()[0]
                    waiting.append(samples)
                    held += len(samples)
                if held >= full:
                    yield np.concatenate(waiting)
                    waiting, held = [], 0
    except av.FFmpegError as error:
        if not waiting:
            raise UnreadableFile("This recording is broken. Record or copy it again.") from error
    if waiting:
        yield np.concatenate(waiting)  # what came before it broke off is heard

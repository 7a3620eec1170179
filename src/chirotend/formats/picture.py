"""Pictures she brings: turned upright, made again as JPEG without anything a camera wrote into them, kept small.

In a process of its own: a small file can hold a picture that takes much memory.
"""

from base64 import b64decode, b64encode
from collections.abc import Callable
from dataclasses import dataclass
from io import BytesIO
from typing import Any

from PIL import Image, ImageOps, UnidentifiedImageError

from chirotend.formats import sandbox
from chirotend.formats.cells import UnreadableFile

PIXELS_MAX, SIDE_MAX, SIDE_MIN, QUALITY = 60_000_000, 1600, 200, 86
BYTES_MAX = 25 * 1024 * 1024
PICTURE_FORMATS = ("JPEG", "PNG", "WEBP")
#: the size is looked at here before anything is decoded, with a sentence; Pillow would only warn
Image.MAX_IMAGE_PIXELS = None
_HEIC = (b"heic", b"heix", b"hevc", b"mif1", b"msf1", b"avif")


@dataclass(frozen=True)
class Picture:
    """A picture made again: its JPEG, its width and height in pixels."""

    jpeg: bytes
    width: int
    height: int


def made_sandboxed(data: bytes) -> Picture:
    """Return what `made_again` makes, in a process of its own."""
    found = sandbox.read_file(__name__, "This picture", {}, data)
    return Picture(b64decode(found["jpeg"]), found["width"], found["height"])


def answered(_request: dict[str, Any], data: bytes, _step: Callable[[float], None]) -> dict[str, Any]:
    """Return what `made_apart` asks for, as JSON holds it."""
    made = made_again(data)
    return {"jpeg": b64encode(made.jpeg).decode(), "width": made.width, "height": made.height}


def made_again(data: bytes) -> Picture:
    """Return a picture as it is kept; `UnreadableFile` says what is wrong with it and how to mend it."""
    if not data:
        raise UnreadableFile("This picture is empty. Take it again.")
    if len(data) > BYTES_MAX:
        raise UnreadableFile("A picture has up to 25 MB. Take it smaller, or cut it.")
    if data[4:8] == b"ftyp" and data[8:12] in _HEIC:
        raise UnreadableFile(
            "This is a HEIC picture, which cannot be read here. Share it as JPEG, or set the camera to “compatible”."
        )
    try:
        with Image.open(BytesIO(data), formats=PICTURE_FORMATS) as found:
            if found.width * found.height > PIXELS_MAX:
                raise UnreadableFile(f"This picture has {found.width} × {found.height} points; 60 million at most.")
            found.draft("RGB", (SIDE_MAX * 2, SIDE_MAX * 2))
            upright = ImageOps.exif_transpose(found).convert("RGB")
    except UnreadableFile:
        raise
    except UnidentifiedImageError as error:
        raise UnreadableFile("This is no picture that can be read here: JPEG, PNG or WebP.") from error
    except (OSError, ValueError, SyntaxError) as error:
        raise UnreadableFile("This picture is broken or cut off. Take it again.") from error
    upright.thumbnail((SIDE_MAX, SIDE_MAX))
    if min(upright.size) < SIDE_MIN:
        raise UnreadableFile(f"This picture is too small to set points on: {SIDE_MIN} points each way at least.")
    out = BytesIO()
    upright.info.clear()  # a comment of the camera’s would be written again
    upright.save(out, "JPEG", quality=QUALITY)
    return Picture(out.getvalue(), *upright.size)

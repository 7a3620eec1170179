"""A film of still pictures, as a telephone would make it."""

from collections.abc import Iterable
from io import BytesIO

import numpy as np
from PIL import Image

from chirotend.core.late import late

av = late("av")


def webm(pictures: Iterable[Image.Image], size: tuple[int, int], a_second: int) -> bytes:
    """Return RGB pictures of one size (width, height), so many a second, as WebM."""
    out = BytesIO()
    with av.open(out, "w", format="webm") as box:
        film = box.add_stream("libvpx", rate=a_second)
        film.width, film.height, film.pix_fmt = *size, "yuv420p"
        for picture in pictures:
            box.mux(film.encode(av.VideoFrame.from_ndarray(np.asarray(picture), format="rgb24")))
        box.mux(film.encode(None))
    return out.getvalue()

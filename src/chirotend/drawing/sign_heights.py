"""How far a place stands out, day by day, against the threshold of her own: above it a sign speaks."""

from collections.abc import Sequence

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, path, rect, words

#: ln odds that are drawn; what is beyond lies on the edge
LOWEST, HIGHEST = -6.0, 6.0
HIGH = 92.0
_LEFT, _TOP, _RIGHT = 34.0, 18.0, 8.0

#: a day: how far the place stood out, and the threshold of that day; None = nothing was worked out yet
Height = tuple[float, float] | None


def sign_heights(heights: Sequence[Height], width: float = 940.0) -> Picture:
    """Return the line of a place and her threshold as steps, one day beside the other; above the threshold it is
    shaded."""
    step = (width - _LEFT - _RIGHT) / max(1, len(heights))

    def up(value: float) -> float:
        share = (min(HIGHEST, max(LOWEST, value)) - LOWEST) / (HIGHEST - LOWEST)
        return _TOP + HIGH * (1 - share)

    shapes: list[Shape] = []
    known = [(_LEFT + n * step, *found) for n, found in enumerate(heights) if found is not None]
    for x, height, threshold in known:
        if height > threshold:
            shapes.append(rect(x, up(height), step, up(threshold) - up(height), "usual"))
    if known:
        steps = "".join(f"H{x:.1f}V{up(threshold):.1f}" for x, _, threshold in known)
        first, last = known[0], known[-1]
        shapes += [
            path(f"M{first[0]:.1f} {up(first[2]):.1f}{steps}H{last[0] + step:.1f}", "threshold-line"),
            path("M" + "L".join(f"{x + step / 2:.1f} {up(height):.1f}" for x, height, _ in known), "height-line"),
            words(first[0] + 4, up(first[2]) - 6, "above this you are told", "tick"),
        ]
    return Picture(width, _TOP + HIGH + 8, tuple(shapes))

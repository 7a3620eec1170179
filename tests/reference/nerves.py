"""The nerve of a part of a finger, as textbooks draw it: to hold the table of zones against."""

from chirotend.core.errors import OutOfRange, check_word

FACES = ("palmar", "dorsal_distal", "dorsal_proximal")
HALVES = ("radial", "ulnar")


def nerve_zone(digit: int, face: str, half: str | None = None) -> str:
    """Return the nerve that usually feels a part of a finger: digit 1 (thumb) to 5, its face, for digit 4 its half.

    `dorsal_distal` lies beyond the middle joint (thumb: the nail bed). `OutOfRange` for anything else, or digit 4
    without its half.
    """
    if digit not in (1, 2, 3, 4, 5) or isinstance(digit, bool):
        raise OutOfRange("digit", digit, 1, 5)
    check_word("face", face, FACES)
    if digit == 4:
        if half not in HALVES:
            raise OutOfRange("half", half, words=HALVES)
        ulnar = half == "ulnar"
    else:
        ulnar = digit == 5
    if ulnar:
        return "ulnar"
    return "superficial radial" if face == "dorsal_proximal" else "median"

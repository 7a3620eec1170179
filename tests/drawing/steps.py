"""What the tests of drawings share."""

from chirotend.drawing.shapes import Shape


def of_class(shapes, name: str) -> list[Shape]:
    return [s for s in shapes if name in str(s.attrs.get("class", "")).split()]

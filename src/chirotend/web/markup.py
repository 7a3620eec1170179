"""Shapes written out as SVG text, every attribute and word escaped."""

from collections.abc import Iterable

from markupsafe import Markup, escape

from chirotend.drawing.shapes import Shape


def svg(shapes: Iterable[Shape]) -> Markup:
    """Return the elements of `shapes`, in order."""
    return Markup("").join(_element(s) for s in shapes)


def _element(shape: Shape) -> Markup:
    attrs = "".join(f' {name}="{escape(value)}"' for name, value in shape.attrs.items() if value != "")
    if shape.text:
        return Markup(f"<{shape.tag}{attrs}>{escape(shape.text)}</{shape.tag}>")
    return Markup(f"<{shape.tag}{attrs}/>")

"""Shapes written out as SVG text, every attribute and word escaped; what is a value is written once and kept."""

from collections.abc import Iterable
from html import escape

from flask import render_template
from markupsafe import Markup

from chirotend.core.body.zones import regions, zones
from chirotend.core.memos import by_value
from chirotend.drawing import bodymap, score
from chirotend.drawing.quarters import Quarter, quarter
from chirotend.drawing.shapes import Shape
from chirotend.services.score import score_page

#: lines of the score kept as text, some 60 kB each
LINES_KEPT = 160
#: zones of maps kept as text, some 10 kB each
ZONES_KEPT = 64


def stops(found: Iterable[tuple[float, float]]) -> str:
    """Return where seconds lie in a picture, for the script that moves its play-head: "0.00:128.0 40.00:1052.0"."""
    return " ".join(f"{second:.2f}:{x:.1f}" for second, x in found)


def svg(shapes: Iterable[Shape]) -> Markup:
    """Return the elements of `shapes`, in order."""
    return Markup("".join(map(_element, shapes)))  # every word of it was escaped here


def _element(shape: Shape) -> str:
    attrs = "".join([f' {name}="{_written(value)}"' for name, value in shape.attrs.items() if value != ""])
    if shape.text:
        return f"<{shape.tag}{attrs}>{escape(shape.text)}</{shape.tag}>"
    return f"<{shape.tag}{attrs}/>"


def _written(value: str | float) -> str:
    return escape(value) if isinstance(value, str) else str(value)


@by_value(LINES_KEPT)
def score_line(line: score.ScoreLine) -> Markup:
    """Return a line of the score, with its days as links."""
    return _drawn("score/_line.html", line)


@by_value(LINES_KEPT // 4)
def small_score_line(line: score.ScoreLine) -> Markup:
    """Return a line of the score as a picture."""
    return _drawn("score/_small_line.html", line)


@by_value(LINES_KEPT)
def quarter_line(wanted: Quarter, width: float) -> Markup:
    """Return a quarter of the years as a picture so many units wide."""
    s = quarter(wanted, width)
    return Markup(f'<svg viewBox="0 0 {s.width} {s.height}" aria-hidden="true">{svg(s.shapes)}</svg>')


@by_value(ZONES_KEPT)
def zone_paths(map_id: str, chosen: frozenset[str], asked: frozenset[str] = frozenset()) -> Markup:
    """Return the zones of a map to touch, those of `chosen` pressed; her instrument asks something of `asked`."""
    shown = next(m for m in bodymap.maps() if m.id == map_id)
    return Markup(render_template("body/_zone_paths.html", zones=shown.zones, chosen=chosen, asked=asked))


@by_value(ZONES_KEPT)
def zone_list(chosen: frozenset[str]) -> Markup:
    """Return every zone of the body as a list to tick, those of `chosen` ticked."""
    return Markup(render_template("body/_zone_list.html", regions=regions(), zones=zones().values(), chosen=chosen))


def _drawn(template: str, line: score.ScoreLine) -> Markup:
    said = {"summary": score_page.summary, "by_region": score_page.by_region}
    return Markup(render_template(template, line=line, s=score.drawn(line), **said))

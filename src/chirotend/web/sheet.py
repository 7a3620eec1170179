"""Drawings to take away: one SVG or PNG for itself, or a PDF of A4 pages, in ink on white, with the fonts that ship."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cache

from flask import render_template

from chirotend.drawing import score
from chirotend.drawing.bodymap import Map
from chirotend.drawing.measured import Picture
from chirotend.drawing.quarters import quarter
from chirotend.drawing.shapes import Shape, path
from chirotend.formats import pdf, png
from chirotend.services.score.score_page import ScorePage
from chirotend.services.score.years import YearsPage
from chirotend.web import assets

#: systems of days, and quarters, on a page
SYSTEMS_A_PAGE, QUARTERS_A_PAGE = 3, 12
WIDTH, LABEL, GAP, MARGIN = 1052.0, 130.0, 24.0, 20.0
#: points of a PNG to a unit of the drawing
SHARPNESS = 2.0
#: what the patterns of hatched fields are drawn with
HATCHES = ("hatch-line", "hatch-thin", "hatch-dot")
_CLASS = re.compile(r"\.([A-Za-z][\w-]*)")
_PAPER = re.compile(r"@media print\{(.*)\}\s*$", re.DOTALL)
_COLOUR = re.compile(r"--([a-z0-9-]+):\s*(#[0-9A-Fa-f]{3,8})")


@dataclass(frozen=True)
class Part:
    """A drawing of the sheet: its title, its size in units, its shapes, where it stands.

    `beside`: to the right of the one before. `labelled`: its title stands to its left, and not above it.
    """

    title: str
    width: float
    height: float
    shapes: tuple[Shape, ...]
    x: float = 0.0
    y: float = 0.0
    beside: bool = False
    labelled: bool = False

    @property
    def title_at(self) -> tuple[float, float]:
        return (0.0, self.y + self.height / 2) if self.labelled else (self.x, self.y - 10)

    @property
    def foot(self) -> float:
        return self.y + self.height


def of_days(page: ScorePage) -> list[list[Part]]:
    """Return the systems of a score by pages."""
    systems = [(line.title, score.drawn(line)) for line in page.wide]
    return _pages([Part(title, s.width, s.height, _all(s)) for title, s in systems], SYSTEMS_A_PAGE)


def of_years(page: YearsPage) -> list[list[Part]]:
    """Return the quarters of the years by pages."""
    rows = [(f"{r.name} {r.drawn.first.year}", quarter(r.drawn, WIDTH - LABEL)) for r in page.rows]
    return _pages(
        [Part(title, p.width, p.height, p.shapes, LABEL, labelled=True) for title, p in rows], QUARTERS_A_PAGE
    )


def of_picture(title: str, picture: Picture) -> Part:
    """Return a drawing of a page, in the size it has there."""
    return Part(title, picture.width, picture.height, picture.shapes)


def of_maps(maps: Iterable[Map], lead: str = "") -> list[Part]:
    """Return maps of the body side by side in rows of their own; `lead` stands before the first title."""
    return [
        Part(
            lead + m.title if n == 0 else m.title,
            m.width,
            m.height,
            (*(path(d, "skin") for d in m.clip), *m.lines, *m.marks),
            beside=n > 0,
        )
        for n, m in enumerate(maps)
    ]


def _all(system: score.System) -> tuple[Shape, ...]:
    return (*system.under, *(shape for bar in system.bars for shape in bar.shapes), *system.over)


def _pages(parts: Sequence[Part], a_page: int) -> list[list[Part]]:
    return [_stacked(parts[i : i + a_page]) for i in range(0, len(parts), a_page)]


def _stacked(parts: Iterable[Part]) -> list[Part]:
    """The parts under one another or side by side, with room for a title above each."""
    found: list[Part] = []
    for part in parts:
        before = found[-1] if found else None
        if part.beside and before is not None and before.x + before.width + GAP + part.width <= WIDTH:
            found.append(replace(part, x=before.x + before.width + GAP, y=before.y))
        else:
            found.append(replace(part, y=max((p.foot for p in found), default=0.0) + 30))
    return found


def as_svg(title: str, pages: Iterable[Sequence[Part]]) -> str:
    """Return every part under one another as one SVG."""
    return _alone(title, pages)[0]


def as_png(title: str, pages: Iterable[Sequence[Part]]) -> bytes:
    """Return the same as `as_svg` as a PNG. `NoPdf` where this machine cannot."""
    drawing, height = _alone(title, pages)
    html = render_template("score/sheet_alone.html", width=WIDTH + 2 * MARGIN, height=height, fonts=fonts())
    return png.of_page(
        pdf.from_html(html, lambda name: drawing.encode() if name == "drawing.svg" else assets.content(name)), SHARPNESS
    )


def _alone(title: str, pages: Iterable[Sequence[Part]]) -> tuple[str, float]:
    """The parts as one SVG, and how high it is."""
    parts = _stacked(part for page in pages for part in page)
    height, looks = max((p.foot for p in parts), default=0.0) + 70, _looks(parts)
    drawn = render_template(
        "score/sheet.svg", title=title, parts=parts, width=WIDTH + 2 * MARGIN, height=height, style=looks
    )
    return drawn, height


def _looks(parts: Iterable[Part]) -> str:
    return style_of((shape for part in parts for shape in part.shapes), HATCHES)


def as_pdf(title: str, name: str, pages: Sequence[Sequence[Part]]) -> bytes:
    """Return the pages as A4. `NoPdf` where this machine cannot."""
    drawn = {
        f"page-{n}.svg": render_template("score/sheet_page.svg", parts=parts, width=WIDTH, style=_looks(parts)).encode()
        for n, parts in enumerate(pages, start=1)
    }
    html = render_template("score/sheet.html", title=title, name=name, pages=list(drawn), fonts=fonts())
    return pdf.from_html(html, lambda name: drawn[name] if name in drawn else assets.content(name))


@cache
def style() -> str:
    """Return the looks of what is drawn, with plain colours, and those it has on paper."""
    colours = dict(_COLOUR.findall(_text("tokens")))
    paper = _PAPER.search(_text("paper"))
    if paper is None:
        raise ValueError("paper.css is not one block of rules for print")
    looks = _text("shared/drawn") + paper[1]
    families = {"title": "Literata, Georgia, serif", "ui": "Atkinson Hyperlegible Next, Arial, sans-serif"}
    return re.sub(r"var\(--([a-z0-9-]+)\)", lambda m: families.get(m[1]) or colours[m[1]], looks)


@cache
def _rules() -> tuple[tuple[tuple[frozenset[str], ...], str], ...]:
    """Each rule of `style` with the classes its selectors ask for."""
    found = re.findall(r"([^{}]+)\{([^{}]*)\}", re.sub(r"/\*.*?\*/", "", style(), flags=re.DOTALL))
    return tuple(
        (tuple(frozenset(_CLASS.findall(one)) for one in selectors.split(",")), f"{selectors.strip()}{{{looks}}}")
        for selectors, looks in found
    )


def style_of(shapes: Iterable[Shape], more: Iterable[str] = ()) -> str:
    """Return those rules of `style` that `shapes` are looked at by, and those of `more` classes."""
    used = {name for shape in shapes for name in str(shape.attrs.get("class", "")).split()} | set(more)
    return "\n".join(rule for asked, rule in _rules() if any(one <= used for one in asked))


def fonts() -> str:
    """The rules that name the fonts, each at the file that ships; a range of weights is not understood on paper."""
    faces = re.findall(r"@font-face\{.*?\}", re.sub(r"font-weight:\d+ \d+;", "", _text("tokens")), re.DOTALL)
    return "\n".join(face.replace("../vendor/", "shipped:vendor/") for face in faces)


def _text(name: str) -> str:
    return assets.content(f"css/{name}.css").decode()

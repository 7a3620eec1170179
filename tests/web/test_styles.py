"""Rules of one subject reach its own pages alone, and no page of another one counts on them."""

import re
from collections.abc import Iterable
from pathlib import Path

import pytest
import tinycss2

from chirotend.web import assets, styles

TEMPLATES = Path(styles.__file__).parent / "templates"
#: pages that must stand without the rest: each has a sheet of its own
ALONE = ("help/urgent.html", "concert_card/", "offline/", "report/sheet")


def classes_of(sheets: Iterable[str]) -> set[str]:
    """The classes that the rules of sheets ask for."""
    found: set[str] = set()
    for sheet in sheets:
        text = (assets.STATIC / sheet).read_text(encoding="utf-8")
        rules = tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True)
        for rule in rules:
            inside = [rule] if rule.type == "qualified-rule" else tinycss2.parse_rule_list(rule.content or [])
            for one in inside:
                if one.type == "qualified-rule":
                    found |= set(re.findall(r"\.([A-Za-z][\w-]*)", tinycss2.serialize(one.prelude)))
    return found


def classes_in(template: Path) -> set[str]:
    """The classes that a template gives, also those it gives only now and then."""
    found: set[str] = set()
    for given in re.findall(r'class="([^"]*)"', template.read_text(encoding="utf-8")):
        asked = " ".join(re.findall(r"'([\w -]+)'", given))
        found |= set(re.findall(r"[A-Za-z][\w-]*", re.sub(r"\{[{%].*?[%}]\}", " ", given) + " " + asked))
    return found


def test_no_page_counts_on_the_rules_of_another_subject():
    shared = classes_of((*styles.SHARED, *styles.AT_LAST))
    own = {subject: classes_of(sheets) - shared for subject, sheets in styles.OF_SUBJECTS.items()}
    found = []
    for template in sorted(TEMPLATES.glob("*/*")):
        name = template.relative_to(TEMPLATES).as_posix()
        if name.startswith(ALONE):
            continue
        for subject, classes in own.items():
            if name.split("/")[0] != subject:
                found += [(name, used, subject) for used in sorted(classes_in(template) & classes)]
    assert found == []


def test_a_rule_of_a_subject_reaches_its_pages_and_weighs_as_before():
    sheet = "/* x */.a,.b>:is(.c,.d){color:red}@media (max-width:9px){.a{top:0}.b:not(.c,.d){top:1px}}"
    where = ":where([data-subject=plan])"
    assert styles.of_subject("plan", sheet) == (
        f"{where} .a,{where} .b>:is(.c,.d){{color:red}}\n"
        f"@media (max-width:9px){{{where} .a{{top:0}} {where} .b:not(.c,.d){{top:1px}}}}"
    )


@pytest.mark.parametrize("sheet", ["@keyframes x{from{top:0}}", "@font-face{font-family:x}", ".a{color:red}}"])
def test_what_would_reach_every_page_is_no_rule_of_a_subject(sheet):
    with pytest.raises(ValueError, match="a subject has rules and @media alone"):
        styles.of_subject("plan", sheet)


def test_every_page_says_its_subject(client):
    for path, subject in (
        ("/", "today"),
        ("/plan/parts/", "parts"),
        ("/plan/programmes/", "plan"),
        ("/shown", "report"),
    ):
        assert f'data-subject="{subject}"' in client.get(path).text


#: classes that are put together: how such a one looks, the file that makes it, and what stands there
PUT_TOGETHER = (
    (r"of-\d", "web/templates/happened/index.html", "of-{{ number }}"),
    (r"map-hand-(left|right)-(palm|back)", "web/templates/body/_map.html", "map-{{ m.id }}"),
    (r"s\d", "drawing/equipment_bench.py", "string s{i}"),
    (r"(force|force-was|weight)-head", "drawing/pencil.py", "{cls}-head"),
    (r"bench-grid-carry", "web/templates/kit/index.html", "bench-grid-{{ bench.tab }}"),
    (r"(own|asked|travel|other|gone)-name", "drawing/plan.py", "{item.kind}-name"),
)


def test_no_rule_is_for_a_class_that_nothing_gives():
    """A class must be named by a template, a script, a drawing or a service, or be put together as said above."""
    source = TEMPLATES.parents[1]
    for _, file, there in PUT_TOGETHER:
        assert there in (source / file).read_text(encoding="utf-8"), (file, there)
    given = [*source.rglob("*.py"), *source.rglob("*.html"), *source.rglob("*.svg")]
    given += assets.STATIC.joinpath("js").rglob("*.js")
    named = {word for path in given for word in re.findall(r"[A-Za-z][\w-]*", path.read_text(encoding="utf-8"))}
    own = classes_of(sheet for sheet in styles.sheets() if not sheet.startswith("vendor/"))
    made = re.compile("|".join(pattern for pattern, _, _ in PUT_TOGETHER))
    assert sorted(c for c in own if c not in named and not made.fullmatch(c)) == []

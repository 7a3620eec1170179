"""A template asks for nothing that no page gives it: a name that was changed on one side alone shows nothing at all."""

import ast
from pathlib import Path

import pytest
from flask import Flask
from jinja2 import UndefinedError, meta, nodes

from chirotend import web
from chirotend.services.today.first_days import Step

PAGES = Path(web.__file__).parent
#: what Flask gives to every template (its documentation, "Standard Context")
OF_FLASK = {"config", "request", "session", "g", "url_for", "get_flashed_messages"}


def _given() -> set[str]:
    """The names by which anything is given to a template: keywords of calls, and keys of what is passed on whole."""
    found: set[str] = set()
    for path in PAGES.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call):
                found |= {keyword.arg for keyword in node.keywords if keyword.arg}
            elif isinstance(node, ast.Dict):
                found |= {
                    key.value for key in node.keys if isinstance(key, ast.Constant) and isinstance(key.value, str)
                }
            elif isinstance(node, ast.Subscript) and isinstance(node.slice, ast.Constant):
                found.add(str(node.slice.value))
    return found


def _set_by(template: nodes.Template) -> set[str]:
    """The names a template brings itself, for its own blocks and for what it includes: macros it imports, what it
    sets."""
    found = {node.name for node in template.find_all(nodes.Macro)}
    for node in template.find_all(nodes.FromImport):
        found |= {name[-1] if isinstance(name, tuple) else name for name in node.names}
    for node in template.find_all((nodes.Assign, nodes.AssignBlock, nodes.For)):
        found |= {name.name for name in node.target.find_all(nodes.Name)} | {getattr(node.target, "name", "")}
    return found


def test_every_name_that_a_template_asks_for_is_given_by_a_page(app: Flask):
    everywhere: dict[str, object] = {}
    with app.test_request_context("/"):
        app.update_template_context(everywhere)
    folder = PAGES / "templates"
    templates = {p: app.jinja_env.parse(p.read_text(encoding="utf-8")) for p in sorted(folder.rglob("*.html"))}
    assert len(templates) > 100, "the templates are found"
    known = _given() | OF_FLASK | set(app.jinja_env.globals) | set(everywhere)
    known |= {name for template in templates.values() for name in _set_by(template)}
    asked = {(p.name, name) for p, t in templates.items() for name in meta.find_undeclared_variables(t)}
    assert sorted((page, name) for page, name in asked if name not in known) == []


def test_a_template_that_asks_a_value_for_what_it_lacks_fails_in_tests(app: Flask):
    template = app.jinja_env.from_string("{{ thing.length_min }}")
    with app.test_request_context("/"), pytest.raises(UndefinedError, match="Step has no “length_min”"):
        template.render(thing=Step("after a week", "the first call", reached=False))

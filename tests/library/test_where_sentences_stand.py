"""Where sentences stand: a judgement's in `library/said`, a refusal's beside its field, a page's in its template."""

import ast
import re
import string
from pathlib import Path

import pytest

from chirotend.library.loader import sentences
from tests.library.spoken import ROOT

SERVICES = ROOT / "services"
#: what refuses: its sentence says how to mend the field, and stands where the field is checked
REFUSALS = {"FieldError", "UnreadableFile", "NotThere", "ValueError", "RuntimeError", "Missing"}
#: what is given the sentence it refuses with
REFUSALS |= {"typed_time", "_whole", "_words"}
#: for whoever runs the server, and the page of the proof
NOT_SAID_TO_A_PLAYER = ("server/", "prove/")


def sentences_of(path: Path) -> list[str]:
    """The sentences in a module's code that refuse nothing: a capital, two words at least, a full stop."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    silent = {id(part) for n in ast.walk(tree) if isinstance(n, ast.Expr) for part in ast.walk(n.value)}
    for call in (n for n in ast.walk(tree) if isinstance(n, ast.Call)):
        if isinstance(call.func, ast.Name) and call.func.id in REFUSALS:
            silent |= {id(part) for part in ast.walk(call)}
    texts = [
        "".join(str(p.value) if isinstance(p, ast.Constant) else "X" for p in n.values)
        if isinstance(n, ast.JoinedStr)
        else str(n.value)
        for n in ast.walk(tree)
        if isinstance(n, ast.JoinedStr | ast.Constant) and id(n) not in silent
    ]
    return [text for text in texts if re.match(r"[A-Z“X].*\w \w.*\.$", text, flags=re.S)]


def calls() -> list[tuple[str, str, frozenset[str], str]]:
    """Each sentence that is asked for: subject, code, the values it is given, where."""
    found = []
    for path in sorted(ROOT.rglob("*.py")):
        for n in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(n, ast.Call) and isinstance(n.func, ast.Name) and n.func.id == "sentence":
                subject, code = (ast.literal_eval(a) for a in n.args)
                found.append((subject, code, frozenset(str(k.arg) for k in n.keywords), str(path.relative_to(ROOT))))
    return found


def keyed() -> set[str]:
    """The subjects whose sentences are asked for by a key of the rules."""
    modules = (ast.parse(path.read_text(encoding="utf-8")) for path in ROOT.rglob("*.py"))
    asked = (n for m in modules for n in ast.walk(m) if isinstance(n, ast.Call) and isinstance(n.func, ast.Name))
    return {str(ast.literal_eval(n.args[0])) for n in asked if n.func.id == "keyed_sentence"}  # type: ignore[attr-defined]


def test_no_service_holds_a_sentence_of_its_own():
    modules = {str(p.relative_to(SERVICES)): p for p in sorted(SERVICES.rglob("*.py"))}
    speak = [name for name, p in modules.items() if sentences_of(p) and not name.startswith(NOT_SAID_TO_A_PLAYER)]
    assert speak == [], "what a judgement says stands in library/said"


def test_a_sentence_that_is_asked_for_is_there_and_gets_its_values():
    assert calls()
    for subject, code, values, where in calls():
        wanted = {name for _, name, _, _ in string.Formatter().parse(sentences(subject)[code]) if name}
        assert wanted == values, f"{where}: {subject}, {code}"


def test_every_subject_that_is_asked_for_by_key_is_there():
    assert keyed() and all(sentences(subject) for subject in keyed())


@pytest.mark.parametrize("subject", sorted({subject for subject, _, _, _ in calls()}))
def test_no_sentence_is_kept_that_nobody_says(subject):
    assert {code for of, code, _, _ in calls() if of == subject} == set(sentences(subject))
